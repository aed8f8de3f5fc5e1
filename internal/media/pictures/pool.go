package pictures

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"sync"
	"time"
)

// A worker is replaced after so many jobs, so that what a decoder leaks does not add up.
const jobsPerWorker = 500

// jobTimeout is how long one picture may take.
const jobTimeout = 60 * time.Second

// ErrDied is returned when a picture made its worker crash, run out of memory or take too long.
var ErrDied = errors.New("it could not be decoded within the limits of memory and time")

// Pool runs jobs in worker processes, at most size at a time. It starts them when they are needed.
type Pool struct {
	slots chan *worker
	close sync.Once
}

type worker struct {
	command *exec.Cmd
	input   io.WriteCloser
	answers *json.Decoder
	jobs    int
}

// NewPool returns a pool of size workers.
func NewPool(size int) *Pool {
	p := &Pool{slots: make(chan *worker, size)}
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
// worker which had done others before gets one more try in a new one, since what they left behind may be to blame.
func (p *Pool) Do(ctx context.Context, r Request) (Response, error) {
	response, used, err := p.once(ctx, r)
	if err != nil && used && ctx.Err() == nil {
		response, _, err = p.once(ctx, r)
	}
	switch {
	case ctx.Err() != nil:
		return Response{}, ctx.Err()
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
	if err != nil || w.jobs >= jobsPerWorker {
		w.stop()
		w = nil
	}
	p.slots <- w
	if err != nil {
		err = fmt.Errorf("%w: %w", ErrDied, err)
	}
	return response, used, err
}

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
	if err := command.Start(); err != nil {
		return nil, fmt.Errorf("starting a picture worker: %w", err)
	}
	return &worker{command: command, input: input, answers: json.NewDecoder(output)}, nil
}

func (w *worker) run(ctx context.Context, r Request) (Response, error) {
	w.jobs++
	ctx, cancel := context.WithTimeout(ctx, jobTimeout)
	defer cancel()
	kill := context.AfterFunc(ctx, func() { _ = w.command.Process.Kill() })
	defer kill()
	if err := json.NewEncoder(w.input).Encode(r); err != nil {
		return Response{}, err
	}
	var response Response
	err := w.answers.Decode(&response)
	return response, err
}

func (w *worker) stop() {
	_ = w.input.Close()
	done := time.AfterFunc(2*time.Second, func() { _ = w.command.Process.Kill() })
	_ = w.command.Wait()
	done.Stop()
}
