package pictures

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"strconv"
	"sync"
	"sync/atomic"
	"syscall"
	"time"

	"brightsatchel/internal/media/children"
)

// A worker is replaced after so many jobs, so that what a decoder leaks does not add up.
const jobsPerWorker = 500

// How long one picture may take: drawings and documents, which say by themselves how much work they are, and all others.
const (
	drawingTimeout = 20 * time.Second
	jobTimeout     = 60 * time.Second
)

// slowPixels is from how many pixels on a picture counts as slow.
const slowPixels = 80_000_000

// What a picture did to its worker: made it crash or run out of memory, or took too long.
var (
	ErrDied = errors.New("it could not be decoded within the limits of memory and time")
	errLate = errors.New("it takes too long to be drawn")
)

// ErrBusy is returned for what may be slow while as much of that is being done as is allowed. It is worth another try soon.
var ErrBusy = errors.New("pictures: all that may be slow has to wait")

// Pool runs jobs in worker processes, at most size at a time. It starts them when they are needed. What may be slow never
// takes all of them.
type Pool struct {
	slots chan *worker
	slow  chan struct{}
	close sync.Once
}

// Busy is how many workers are at work.
func (p *Pool) Busy() int { return cap(p.slots) - len(p.slots) }

// MaySlow says whether a job may be slow: it draws something, decodes frames or pages, or is very large.
func MaySlow(r Request, pixels int) bool {
	return drawn(r.MediaType) || pixels > slowPixels
}

func drawn(mediaType string) bool {
	return mediaType == "image/svg+xml" || mediaType == "application/pdf"
}

type worker struct {
	command *exec.Cmd
	input   io.WriteCloser
	answers *json.Decoder
	jobs    int
	behind  atomic.Bool // it was put behind the others of the machine
}

// A job that takes longer than longJob lets all others of the machine go first, by so much niceness.
const (
	longJob      = 2 * time.Second
	behindOthers = 10
)

// NewPool returns a pool of size workers, at least two.
func NewPool(size int) *Pool {
	size = max(2, size)
	p := &Pool{slots: make(chan *worker, size), slow: make(chan struct{}, size-1)}
	for range size {
		p.slots <- nil
	}
	return p
}

// Close ends the workers after their present jobs.
func (p *Pool) Close() {
	p.close.Do(func() {
		for range cap(p.slots) {
			if w := <-p.slots; w != nil {
				w.stop()
			}
		}
	})
}

// Do runs one job. An error of the picture itself comes as a *PictureError; ErrDied counts as one too. A job that ends a
// worker which had done others before gets one more try in a new one, since what they left behind may be to blame; one that
// took too long would take as long again. With r.Slow it may be told ErrBusy.
func (p *Pool) Do(ctx context.Context, r Request) (Response, error) {
	if r.Slow {
		select {
		case p.slow <- struct{}{}:
			defer func() { <-p.slow }()
		case <-ctx.Done():
			return Response{}, ctx.Err()
		case <-time.After(slowWait):
			return Response{}, ErrBusy
		}
	}
	response, used, err := p.once(ctx, r)
	if err != nil && used && !errors.Is(err, errLate) && ctx.Err() == nil {
		response, _, err = p.once(ctx, r)
	}
	switch {
	case ctx.Err() != nil:
		return Response{}, ctx.Err()
	case errors.Is(err, errLate):
		return Response{}, &PictureError{Text: errLate.Error()}
	case errors.Is(err, ErrDied):
		return Response{}, &PictureError{Text: ErrDied.Error()}
	case err != nil:
		return Response{}, err
	case response.Error != "":
		return response, &PictureError{Text: response.Error}
	}
	return response, nil
}

// once runs a job in a free worker and says whether that had done others before.
func (p *Pool) once(ctx context.Context, r Request) (response Response, used bool, err error) {
	var w *worker
	select {
	case w = <-p.slots:
	case <-ctx.Done():
		return Response{}, false, ctx.Err()
	}
	if w == nil {
		if w, err = startWorker(); err != nil {
			p.slots <- nil
			return Response{}, false, err
		}
	}
	used = w.jobs > 0
	response, err = w.run(ctx, r)
	if err != nil || w.jobs >= jobsPerWorker || w.behind.Load() {
		w.stop()
		w = nil
	}
	p.slots <- w
	if err != nil && !errors.Is(err, errLate) {
		err = fmt.Errorf("%w: %w", ErrDied, err)
	}
	return response, used, err
}

// slowWait is how long what may be slow waits for its turn before it is told to come again.
const slowWait = 100 * time.Millisecond

// PictureError is something wrong with the picture and not with us.
type PictureError struct{ Text string }

func (e *PictureError) Error() string { return e.Text }

func startWorker() (*worker, error) {
	program, err := os.Executable()
	if err != nil {
		return nil, err
	}
	command := exec.Command(program)
	// One memory arena instead of one for each thread: otherwise half a gigabyte of the limit goes to reserves.
	command.Env = append(os.Environ(), workerVariable+"=1", "VIPS_WARNING=0", "MALLOC_ARENA_MAX=1")
	command.Stderr = os.Stderr
	input, err := command.StdinPipe()
	if err != nil {
		return nil, err
	}
	output, err := command.StdoutPipe()
	if err != nil {
		return nil, err
	}
	if err := children.Start(command, limits); err != nil {
		return nil, fmt.Errorf("starting a picture worker: %w", err)
	}
	return &worker{command: command, input: input, answers: json.NewDecoder(output)}, nil
}

func (w *worker) run(ctx context.Context, r Request) (Response, error) {
	w.jobs++
	limit := jobTimeout
	if drawn(r.MediaType) {
		limit = drawingTimeout
	}
	caller := ctx
	ctx, cancel := context.WithTimeout(ctx, limit)
	defer cancel()
	back := time.AfterFunc(longJob, func() {
		w.behind.Store(true) // and for good: only who runs the machine may put it forward again
		w.putBehind()
	})
	defer back.Stop()
	kill := context.AfterFunc(ctx, func() { _ = w.command.Process.Kill() })
	defer kill()
	if err := json.NewEncoder(w.input).Encode(r); err != nil {
		return Response{}, err
	}
	var response Response
	err := w.answers.Decode(&response)
	if err != nil && ctx.Err() != nil && caller.Err() == nil {
		return response, errLate
	}
	return response, err
}

// putBehind lets all others of the machine go first. Linux keeps that for each thread; new ones inherit it.
func (w *worker) putBehind() {
	threads, _ := os.ReadDir(fmt.Sprintf("/proc/%d/task", w.command.Process.Pid))
	for _, thread := range threads {
		if id, err := strconv.Atoi(thread.Name()); err == nil {
			_ = syscall.Setpriority(syscall.PRIO_PROCESS, id, behindOthers)
		}
	}
}

func (w *worker) stop() {
	_ = w.input.Close()
	done := time.AfterFunc(2*time.Second, func() { _ = w.command.Process.Kill() })
	_ = w.command.Wait()
	done.Stop()
}
