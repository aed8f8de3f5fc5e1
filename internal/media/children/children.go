// Package children starts the programs that decode and measure files, so that none of them outlives us or takes more than it was given.
package children

import (
	"fmt"
	"math"
	"os/exec"
	"runtime"
	"sync"
	"syscall"
	"time"
)

// Limits are what a program may take, whatever is in the file that it is given; none of them is 0. What a program writes to us is
// bounded by whoever reads it.
type Limits struct {
	Memory int64         // of address space, in bytes
	Output int64         // of each file that it writes, in bytes
	Time   time.Duration // of all processors together; Unending is for a program that is kept open, whose single jobs are ended in time
}

// Unending is the time of a program that is kept open.
const Unending = time.Duration(math.MaxInt64)

// under makes a command one that sets its limits before it becomes the program (prlimit of util-linux).
func (l Limits) under(command *exec.Cmd) error {
	if l.Memory <= 0 || l.Output <= 0 || l.Time <= 0 {
		return fmt.Errorf("%s is to be started without limits", command.Path)
	}
	if command.Err != nil {
		return command.Err
	}
	program, err := exec.LookPath(command.Path)
	if err != nil {
		return err
	}
	limiter, err := exec.LookPath("prlimit")
	if err != nil {
		return err
	}
	args := []string{limiter, fmt.Sprint("--as=", l.Memory), fmt.Sprint("--fsize=", l.Output), "--core=0"}
	if l.Time != Unending {
		args = append(args, fmt.Sprint("--cpu=", int64(math.Ceil(l.Time.Seconds()))))
	}
	command.Args = append(append(args, "--", program), command.Args[1:]...)
	command.Path = limiter
	return nil
}

// Start starts a command under limits that the kernel kills with us, however we end. A program that merely waits for the end of its
// input is not enough: exiftool asks a closed input for ever, and ffmpeg would finish its film for nobody.
func Start(command *exec.Cmd, limits Limits) error {
	if err := limits.under(command); err != nil {
		return err
	}
	if command.SysProcAttr == nil {
		command.SysProcAttr = &syscall.SysProcAttr{}
	}
	command.SysProcAttr.Pdeathsig = syscall.SIGKILL
	parent.Do(func() { go start() })
	started := make(chan error)
	asked <- request{command, started}
	return <-started
}

// Run starts a command likewise and waits for its end.
func Run(command *exec.Cmd, limits Limits) error {
	if err := Start(command, limits); err != nil {
		return err
	}
	return command.Wait()
}

type request struct {
	command *exec.Cmd
	started chan<- error
}

var (
	parent sync.Once
	asked  = make(chan request)
)

// start starts all of them from one thread that never ends before the process does: the kernel sends the signal when the
// thread that started a child ends (prctl(2), PR_SET_PDEATHSIG), and Go ends threads as it likes.
func start() {
	runtime.LockOSThread()
	for r := range asked {
		r.started <- r.command.Start()
	}
}
