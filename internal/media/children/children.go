// Package children starts the programs that decode and measure files, so that none of them outlives us.
package children

import (
	"os/exec"
	"runtime"
	"sync"
	"syscall"
)

// Start starts a command that the kernel kills with us, however we end. A program that merely waits for the end of its
// input is not enough: exiftool asks a closed input for ever, and ffmpeg would finish its film for nobody.
func Start(command *exec.Cmd) error {
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
func Run(command *exec.Cmd) error {
	if err := Start(command); err != nil {
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
