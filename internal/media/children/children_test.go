package children_test

import (
	"bufio"
	"fmt"
	"os"
	"os/exec"
	"runtime"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/media/children"
)

// asParent makes this program a parent that starts one child, says its number and waits to be killed.
const asParent = "CHILDREN_TEST_PARENT"

func TestMain(m *testing.M) {
	if os.Getenv(asParent) == "" {
		os.Exit(m.Run())
	}
	command := exec.Command("sh", "-c", "exec sleep 600")
	if err := children.Start(command); err != nil {
		panic(err)
	}
	fmt.Println(command.Process.Pid)
	select {}
}

func TestAChildDiesWithItsParent(t *testing.T) {
	parent := exec.Command(os.Args[0])
	parent.Env = append(os.Environ(), asParent+"=1")
	output, err := parent.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, parent.Start())
	line, err := bufio.NewReader(output).ReadString('\n')
	require.NoError(t, err)
	child, err := strconv.Atoi(strings.TrimSpace(line))
	require.NoError(t, err)
	require.True(t, runs(child))

	require.NoError(t, parent.Process.Kill())
	_ = parent.Wait()
	require.Eventually(t, func() bool { return !runs(child) }, 30*time.Second, 10*time.Millisecond)
}

func TestAChildOutlivesTheThreadsThatComeAndGo(t *testing.T) {
	command := exec.Command("sleep", "600")
	var started sync.WaitGroup
	started.Go(func() {
		runtime.LockOSThread() // never unlocked: the thread ends with this function
		assert.NoError(t, children.Start(command))
	})
	started.Wait()
	runtime.GC()
	time.Sleep(200 * time.Millisecond)
	assert.True(t, runs(command.Process.Pid))
	require.NoError(t, command.Process.Kill())
	require.Error(t, command.Wait())
}

func TestRunSaysWhatWentWrong(t *testing.T) {
	require.NoError(t, children.Run(exec.Command("true")))
	require.Error(t, children.Run(exec.Command("false")))
	require.ErrorIs(t, children.Run(exec.Command("/there/is/no/such/program")), os.ErrNotExist)
}

// runs says whether a process is there and has not ended: one that nobody waited for stays as a zombie.
func runs(pid int) bool {
	status, err := os.ReadFile(fmt.Sprintf("/proc/%d/stat", pid))
	if err != nil {
		return false
	}
	_, state, _ := strings.Cut(string(status), ") ")
	return !strings.HasPrefix(state, "Z")
}
