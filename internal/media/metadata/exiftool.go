// Package metadata reads and writes EXIF, IPTC and XMP through one exiftool process that is kept open.
package metadata

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"strings"
	"sync"
	"time"
)

// Tool is an exiftool process, started when it is needed and again when it died. It ends with its input. Calls wait for each other.
type Tool struct {
	mu      sync.Mutex
	command *exec.Cmd
	input   io.WriteCloser
	output  *bufio.Reader
	n       int
}

const callTimeout = 30 * time.Second

// Close ends the process.
func (t *Tool) Close() {
	t.mu.Lock()
	defer t.mu.Unlock()
	t.stop()
}

func (t *Tool) stop() {
	if t.command == nil {
		return
	}
	_ = t.input.Close()
	_ = t.command.Process.Kill()
	_ = t.command.Wait()
	t.command = nil
}

func (t *Tool) start() error {
	if t.command != nil {
		return nil
	}
	command := exec.Command("exiftool", "-stay_open", "True", "-@", "-", "-common_args", "-charset", "filename=utf8")
	input, err := command.StdinPipe()
	if err != nil {
		return err
	}
	output, err := command.StdoutPipe()
	if err != nil {
		return err
	}
	command.Stderr = command.Stdout // errors are told in line, before the ready mark
	if err := command.Start(); err != nil {
		return fmt.Errorf("starting exiftool: %w", err)
	}
	t.command, t.input, t.output = command, input, bufio.NewReaderSize(output, 1<<16)
	return nil
}

// call runs one command, an argument a line, and returns what it printed. An argument cannot hold a line break.
func (t *Tool) call(ctx context.Context, args ...string) ([]byte, error) {
	for _, a := range args {
		if strings.ContainsAny(a, "\r\n\x00") {
			return nil, errors.New("metadata: an argument holds a line break")
		}
	}
	t.mu.Lock()
	defer t.mu.Unlock()
	if err := t.start(); err != nil {
		return nil, err
	}
	ctx, cancel := context.WithTimeout(ctx, callTimeout)
	defer cancel()
	process := t.command.Process
	unwatch := context.AfterFunc(ctx, func() { _ = process.Kill() })
	defer unwatch()
	t.n++
	if _, err := fmt.Fprintf(t.input, "%s\n-execute%d\n", strings.Join(args, "\n"), t.n); err != nil {
		t.stop()
		return nil, err
	}
	ready := fmt.Appendf(nil, "{ready%d}", t.n)
	var out bytes.Buffer
	for {
		line, err := t.output.ReadBytes('\n')
		if err != nil {
			t.stop()
			return nil, fmt.Errorf("exiftool ended: %w", err)
		}
		if bytes.HasPrefix(bytes.TrimSpace(line), ready) {
			return out.Bytes(), nil
		}
		out.Write(line)
	}
}

// Read returns all that a file says, by group and name as exiftool has them (for example "XMP-dc:Title").
func (t *Tool) Read(ctx context.Context, path string) (map[string]any, error) {
	out, err := t.call(ctx, "-j", "-G1", "-struct", "-c", "%+.6f", "-x", "System:all", "-x", "ExifTool:all", path)
	if err != nil {
		return nil, err
	}
	start := bytes.IndexByte(out, '[')
	if start < 0 {
		return map[string]any{}, nil
	}
	var files []map[string]any
	if err := json.NewDecoder(bytes.NewReader(out[start:])).Decode(&files); err != nil || len(files) == 0 {
		return map[string]any{}, nil // nothing readable is no metadata, and no reason to refuse a picture
	}
	delete(files[0], "SourceFile")
	return files[0], nil
}

// FileType tells what exiftool takes a file for, as an IANA media type such as "image/x-canon-cr2", or "".
func (t *Tool) FileType(ctx context.Context, path string) (string, error) {
	out, err := t.call(ctx, "-s3", "-MIMEType", path)
	return strings.TrimSpace(string(out)), err
}

// Embedded writes the largest JPEG that a camera raw file holds into target, upright by the orientation of the raw, and
// says whether there is one.
func (t *Tool) Embedded(ctx context.Context, path, target string) (bool, error) {
	best := int64(0)
	for _, name := range []string{"JpgFromRaw", "PreviewImage", "OtherImage", "ThumbnailImage"} {
		part := target + "." + name
		if _, err := t.call(ctx, "-b", "-"+name, "-w!", strings.ReplaceAll(target, "%", "%%")+"%0f."+name, path); err != nil {
			return false, err
		}
		info, err := os.Stat(part)
		if err != nil {
			continue
		}
		if info.Size() > best {
			best = info.Size()
			if err := os.Rename(part, target); err != nil {
				return false, err
			}
			continue
		}
		_ = os.Remove(part)
	}
	if best == 0 {
		return false, nil
	}
	return true, t.change(ctx, "-tagsFromFile", path, "-Orientation", target)
}

// Write sets values in a file, by group and name, and leaves everything else in it as it is.
func (t *Tool) Write(ctx context.Context, path string, values map[string]any) error {
	if len(values) == 0 {
		return nil
	}
	// Values travel in a JSON file, so that no text can become an argument.
	record := map[string]any{"SourceFile": "*"}
	for name, value := range values {
		record[name] = value
	}
	data, err := json.Marshal([]any{record})
	if err != nil {
		return err
	}
	file, err := os.CreateTemp("", "metadata-*.json")
	if err != nil {
		return err
	}
	defer func() { _ = os.Remove(file.Name()) }()
	_, err = file.Write(data)
	if err = errors.Join(err, file.Close()); err != nil {
		return err
	}
	return t.change(ctx, "-j="+file.Name(), path)
}

// CopyAll copies every value that can be written from one file to another but the orientation, which renditions have
// applied to their pixels.
func (t *Tool) CopyAll(ctx context.Context, from, to string) error {
	return t.change(ctx, "-tagsFromFile", from, "-all:all", "--Orientation", "--ThumbnailImage", to)
}

func (t *Tool) change(ctx context.Context, args ...string) error {
	out, err := t.call(ctx, append([]string{"-q", "-overwrite_original", "-codedcharacterset=utf8"}, args...)...)
	if err != nil {
		return err
	}
	if text := string(bytes.TrimSpace(out)); strings.Contains(text, "Error") {
		return fmt.Errorf("writing metadata: %s", text)
	}
	return nil
}
