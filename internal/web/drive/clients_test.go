package drive_test

import (
	"crypto/sha256"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/media/mediatest"
)

// run runs a program with a home of its own.
func run(t *testing.T, home, input, program string, args ...string) string {
	t.Helper()
	path, err := exec.LookPath(program)
	require.NoError(t, err, "./check installs it")
	command := exec.Command(path, args...)
	command.Dir = home
	command.Env = append(os.Environ(), "HOME="+home, "RCLONE_CONFIG="+filepath.Join(home, "rclone.conf"))
	command.Stdin = strings.NewReader(input)
	out, err := command.CombinedOutput()
	if program != "litmus" { // which fails for each test that fails
		require.NoError(t, err, string(out))
	}
	return string(out)
}

// TestTheProtocol by litmus, all of it.
func TestTheProtocol(t *testing.T) {
	t.Parallel() // they wait more than they compute
	_, _, of := drives(t, "drive_litmus")
	d := of(access.Steward)
	out := run(t, t.TempDir(), "", "litmus", "-k", d.site+"/dav/Library/", d.email, d.password)
	passed, ran := 0, 0
	for _, found := range regexp.MustCompile(`of (\d+) tests run: (\d+) passed`).FindAllStringSubmatch(out, -1) {
		n, _ := strconv.Atoi(found[1])
		p, _ := strconv.Atoi(found[2])
		ran, passed = ran+n, passed+p
	}
	assert.Equal(t, 104, ran, out)
	assert.Equal(t, ran, passed, out)
	assert.NotContains(t, out, "SKIPPED")
}

// sums are the SHA-256 of all files in a folder, by their paths.
func sums(t *testing.T, dir string) map[string]string {
	t.Helper()
	out := map[string]string{}
	require.NoError(t, filepath.WalkDir(dir, func(path string, entry fs.DirEntry, err error) error {
		if err != nil || entry.IsDir() {
			return err
		}
		data, err := os.ReadFile(path)
		below, _ := filepath.Rel(dir, path)
		out[below] = fmt.Sprintf("%x", sha256.Sum256(data))
		return err
	}))
	return out
}

const manyFiles = 1000

// TestAThousandFilesInAndOut unchanged, by rclone, while they are being brought in and when they are.
func TestAThousandFilesInAndOut(t *testing.T) {
	t.Parallel() // they wait more than they compute
	_, _, of := drives(t, "drive_rclone")
	d := of(access.Coordinator)
	home, from := t.TempDir(), t.TempDir()
	for i := range manyFiles {
		dir := filepath.Join(from, fmt.Sprintf("Shoot %d, Zoë", i/250))
		require.NoError(t, os.MkdirAll(dir, 0o700))
		require.NoError(t, os.WriteFile(filepath.Join(dir, fmt.Sprintf("IMG_%04d #%d.jpg", i, i)),
			mediatest.JPEG(t, 40+i%40, 40+i/40, uint8(i)), 0o600))
	}
	secret := strings.TrimSpace(run(t, home, "", "rclone", "obscure", d.password))
	require.NoError(t, os.WriteFile(filepath.Join(home, "rclone.conf"), fmt.Appendf(nil,
		"[satchel]\ntype = webdav\nurl = %s/dav/\nvendor = other\nuser = %s\npass = %s\n", d.site, d.email, secret), 0o600))
	run(t, home, "", "rclone", "copy", from, "satchel:Library/Copied", "--retries", "1")
	run(t, home, "", "rclone", "check", "--download", from, "satchel:Library/Copied") // as it is by then
	d.taken()
	assert.Equal(t, manyFiles, d.count(`select count(*) from asset where binned_at is null and source = 'drive'`))
	back := t.TempDir()
	run(t, home, "", "rclone", "copy", "satchel:Library/Copied", back)
	assert.Equal(t, sums(t, from), sums(t, back))
	run(t, home, "", "rclone", "move", "satchel:Library/Copied/Shoot 1, Zoë", "satchel:Library/Moved")
	assert.Equal(t, 250, d.count(`select count(*) from asset a join folder f on f.id = a.folder_id where f.name = 'Moved'`))
	run(t, home, "", "rclone", "purge", "satchel:Library/Copied")
	assert.Equal(t, 750, d.count(`select count(*) from asset where binned_at is not null`))
}

// TestCadaver works through the drive by hand.
func TestCadaver(t *testing.T) {
	t.Parallel() // they wait more than they compute
	_, _, of := drives(t, "drive_cadaver")
	d := of(access.Coordinator)
	home := t.TempDir()
	at, err := url.Parse(d.site)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(home, ".netrc"), fmt.Appendf(nil, "machine %s\nlogin %s\npassword %s\n", at.Hostname(),
		d.email,
		d.password), 0o600))
	require.NoError(t, os.WriteFile(filepath.Join(home, "one.jpg"), jpeg(t, 1), 0o600))
	out := run(t, home, `cd Library
mkcol Summer
cd Summer
put one.jpg
lock one.jpg
put one.jpg
unlock one.jpg
copy one.jpg two.jpg
move two.jpg three.jpg
get three.jpg back.jpg
rm one.jpg
ls
quit
`, "cadaver", d.site+"/dav/")
	assert.NotContains(t, out, "failed", out)
	back, err := os.ReadFile(filepath.Join(home, "back.jpg"))
	require.NoError(t, err, out)
	assert.Equal(t, jpeg(t, 1), back)
	assert.Equal(t, []string{"three.jpg"}, d.names("/Library/Summer"))
}
