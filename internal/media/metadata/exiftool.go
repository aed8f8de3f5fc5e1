// Package metadata reads and writes EXIF, IPTC and XMP through exiftool processes that are kept open.
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
	"time"

	"brightsatchel/internal/media/children"
)

// Tool is a few exiftool processes, started when they are needed and again when they died. A call takes one that is free.
// What a file says is hostile: each process runs under a limit of memory, each call under limits of time and of output.
type Tool struct {
	free   chan *process
	stamps stamps
}

// limits are what a process may take; a file that it writes words into is copied by it whole.
var limits = children.Limits{Memory: 768 << 20, Output: 16 << 30, Time: children.Unending}

// Limits of a call.
const (
	outputLimit = 4 << 20 // bytes that a call prints
	callTimeout = 20 * time.Second
	atOnce      = 2
)

// NewTool returns a tool whose processes are not started yet.
func NewTool() *Tool {
	t := &Tool{free: make(chan *process, atOnce)}
	for range atOnce {
		t.free <- &process{}
	}
	return t
}

// Close ends the processes after their present calls.
func (t *Tool) Close() {
	for range cap(t.free) {
		p := <-t.free
		p.stop()
	}
}

// process is one exiftool that is kept open. It ends with its input.
type process struct {
	command *exec.Cmd
	input   io.WriteCloser
	output  *bufio.Reader
	n       int
}

func (p *process) stop() {
	if p.command == nil {
		return
	}
	_ = p.input.Close()
	_ = p.command.Process.Kill()
	_ = p.command.Wait()
	p.command = nil
}

func (p *process) start() error {
	if p.command != nil {
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
	if err := children.Start(command, limits); err != nil {
		return fmt.Errorf("starting exiftool: %w", err)
	}
	p.command, p.input, p.output = command, input, bufio.NewReaderSize(output, 1<<16)
	return nil
}

// ErrTooMuch is returned when a file says more than fits the limits of memory, time and output.
var ErrTooMuch = errors.New("metadata: the file says more than can be read")

// call runs one command, an argument a line, and returns what it printed. An argument cannot hold a line break.
func (t *Tool) call(ctx context.Context, args ...string) ([]byte, error) {
	for _, a := range args {
		if strings.ContainsAny(a, "\r\n\x00") {
			return nil, errors.New("metadata: an argument holds a line break")
		}
	}
	var p *process
	select {
	case p = <-t.free:
	case <-ctx.Done():
		return nil, ctx.Err()
	}
	defer func() { t.free <- p }()
	if err := p.start(); err != nil {
		return nil, err
	}
	out, err := p.call(ctx, args)
	if err != nil {
		p.stop()
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
	}
	return out, err
}

// call asks the process. After an error it has to be stopped: the next answer would be that to this question.
func (p *process) call(ctx context.Context, args []string) ([]byte, error) {
	ctx, cancel := context.WithTimeout(ctx, callTimeout)
	defer cancel()
	running := p.command.Process
	unwatch := context.AfterFunc(ctx, func() { _ = running.Kill() })
	defer unwatch()
	p.n++
	if _, err := fmt.Fprintf(p.input, "%s\n-execute%d\n", strings.Join(args, "\n"), p.n); err != nil {
		return nil, fmt.Errorf("asking exiftool: %w", err)
	}
	ready := fmt.Appendf(nil, "{ready%d}", p.n)
	var out bytes.Buffer
	for start := true; ; {
		line, err := p.output.ReadSlice('\n')
		if err != nil && !errors.Is(err, bufio.ErrBufferFull) { // it died: of its memory, or of its time
			return nil, fmt.Errorf("%w: exiftool ended: %w", ErrTooMuch, err)
		}
		if start && bytes.HasPrefix(bytes.TrimSpace(line), ready) {
			return out.Bytes(), nil
		}
		if out.Len()+len(line) > outputLimit {
			return nil, ErrTooMuch
		}
		out.Write(line)
		start = err == nil
	}
}

// Read returns what a file says, by group and name as exiftool has them (for example "XMP-dc:Title"), cut at sane lengths.
// What was cut is listed under Cut.
func (t *Tool) Read(ctx context.Context, path string) (map[string]any, error) {
	out, err := t.call(ctx, "-j", "-G1", "-struct", "-c", "%+.6f", "-x", "System:all", "-x", "ExifTool:all", path)
	if errors.Is(err, ErrTooMuch) { // that is no reason to refuse a picture
		return map[string]any{Cut: []any{"everything: the file says more than can be read here"}}, nil
	}
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
	return bounded(files[0]), nil
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
