package clips

import (
	"encoding/binary"
	"errors"
	"io"
	"os"
)

// Missing says how many percent of the data of an MP4 or MOV are missing at its end, at least 1 when any is, and 0 when it is
// whole or cannot be told. The boxes of the file (ISO/IEC 14496-12, 4.2) say how long they are.
func Missing(path string) int {
	file, err := os.Open(path)
	if err != nil {
		return 0
	}
	defer func() { _ = file.Close() }()
	info, err := file.Stat()
	if err != nil {
		return 0
	}
	size := info.Size()
	const mostBoxes = 100_000
	at := int64(0)
	for range mostBoxes {
		length, err := boxLength(file, at)
		if errors.Is(err, io.EOF) {
			return 0
		}
		if err != nil || length == 0 || length < 8 || length > 1<<50 { // not made of boxes, or the last box goes to the end
			return 0
		}
		if at+length > size {
			return max(1, int((at+length-size)*100/(at+length)))
		}
		at += length
	}
	return 0
}

func boxLength(file io.ReaderAt, at int64) (int64, error) {
	var head [16]byte
	n, err := file.ReadAt(head[:], at)
	if n == 0 {
		return 0, io.EOF
	}
	if n < 8 {
		return 0, io.ErrUnexpectedEOF
	}
	for _, letter := range head[4:8] { // the type of a box is four printable letters
		if letter < 0x20 || letter > 0x7e {
			return 0, io.ErrUnexpectedEOF
		}
	}
	length := int64(binary.BigEndian.Uint32(head[:4]))
	if length == 1 {
		if n < 16 {
			return 0, err
		}
		length = int64(binary.BigEndian.Uint64(head[8:16]) & (1<<62 - 1))
	}
	return length, nil
}
