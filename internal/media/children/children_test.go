package children_test

import (
	"bufio"
	"fmt"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
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

var some = children.Limits{Memory: 1 << 30, Output: 1 << 20, Time: time.Minute}

func TestMain(m *testing.M) {
	if os.Getenv(asParent) == "" {
		os.Exit(m.Run())
	}
	command := exec.Command("sh", "-c", "exec sleep 600")
	if err := children.Start(command, some); err != nil {
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
		assert.NoError(t, children.Start(command, some))
	})
	started.Wait()
	runtime.GC()
	time.Sleep(200 * time.Millisecond)
	assert.True(t, runs(command.Process.Pid))
	require.NoError(t, command.Process.Kill())
	require.Error(t, command.Wait())
}

func TestRunSaysWhatWentWrong(t *testing.T) {
	require.NoError(t, children.Run(exec.Command("true"), some))
	require.Error(t, children.Run(exec.Command("false"), some))
	require.ErrorIs(t, children.Run(exec.Command("/there/is/no/such/program"), some), os.ErrNotExist)
}

// TestAProgramHasItsLimits: it is told so itself, takes no more, and is not started without them.
func TestAProgramHasItsLimits(t *testing.T) {
	ask := exec.Command("sh", "-c", "ulimit -v; ulimit -f; ulimit -t; ulimit -c")
	var said strings.Builder
	ask.Stdout = &said
	require.NoError(t, children.Run(ask, some))
	assert.Equal(t, []string{"1048576", "2048", "60", "0"}, strings.Fields(said.String()), "kilobytes, blocks of 512 bytes, seconds")
	require.Error(t, children.Run(exec.Command("dd", "if=/dev/zero", "of="+t.TempDir()+"/large", "bs=1M", "count=2"), some))
	require.Error(t, children.Run(exec.Command("dd", "if=/dev/zero", "of=/dev/null", "bs=2G", "count=1"), some))
	busy := some
	busy.Time = time.Second
	began := time.Now()
	require.Error(t, children.Run(exec.Command("sh", "-c", "while :; do :; done"), busy))
	assert.Less(t, time.Since(began), 30*time.Second)
	for _, none := range []children.Limits{{}, {Memory: 1, Output: 1}, {Memory: 1, Time: 1}, {Output: 1, Time: 1}} {
		require.ErrorContains(t, children.Run(exec.Command("true"), none), "without limits")
	}
}

// TestNothingElseStartsPrograms reads the source: whatever we start on files is started here, and so under limits.
func TestNothingElseStartsPrograms(t *testing.T) {
	found := 0
	require.NoError(t, filepath.WalkDir("../..", func(path string, entry fs.DirEntry, err error) error {
		if err != nil || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") || strings.Contains(path, "mediatest") {
			return err
		}
		text, err := os.ReadFile(path)
		if !strings.Contains(string(text), `"os/exec"`) || filepath.Base(path) == "children.go" {
			return err
		}
		found++
		made := strings.Count(string(text), "exec.Command")
		started := strings.Count(string(text), "children.Run(") + strings.Count(string(text), "children.Start(")
		assert.Equal(t, strings.Count(string(text), ":= exec.Command"), started, "%s starts a program without limits", path)
		assert.NotContains(t, string(text), "StartProcess", path)
		assert.Positive(t, made, path)
		return err
	}))
	assert.GreaterOrEqual(t, found, 4)
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
