package settings

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/alecthomas/kong"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

type program struct {
	House
	Server
}

func read(t *testing.T, args ...string) (p program, err error) {
	t.Helper()
	parser, err := kong.New(&p, Explained)
	require.NoError(t, err)
	_, err = parser.Parse(args)
	return p, err
}

func TestEverySettingIsExplained(t *testing.T) {
	parser, err := kong.New(&struct {
		program
		StandIns
	}{}, Explained)
	require.NoError(t, err)
	for _, flag := range parser.Model.Flags {
		if flag.Name == "help" {
			continue
		}
		assert.Len(t, flag.Envs, 1, "%s has a variable", flag.Name)
		assert.NotEmpty(t, flag.Help, flag.Name)
		assert.Contains(t, known, flag.Envs[0])
	}
}

func TestWhatIsNotSetIsAsItsDefaultSays(t *testing.T) {
	p, err := read(t, "--database", "postgres://somewhere")
	require.NoError(t, err)
	config, err := p.Open()
	require.NoError(t, err)
	assert.True(t, p.Work)
	assert.Equal(t, "http://127.0.0.1:8460", config.Origin)
	assert.True(t, filepath.IsAbs(config.Data))
	t.Setenv("SATCHEL_WORK", "no")
	t.Setenv("SATCHEL_ORIGIN", "https://media.example/")
	t.Setenv("SATCHEL_PROXIES", "10.0.0.1,10.1.0.0/16")
	p, err = read(t, "--database", "postgres://somewhere")
	require.NoError(t, err)
	config, err = p.Open()
	require.NoError(t, err)
	assert.False(t, p.Work)
	assert.Equal(t, "https://media.example", config.Origin)
	assert.Equal(t, []string{"10.0.0.1", "10.1.0.0/16"}, p.Proxies)
}

func TestWhatIsWrongIsSaid(t *testing.T) {
	_, err := read(t)
	assert.ErrorContains(t, err, "--database")
	t.Setenv("SATCHEL_HTTPS", "perhaps")
	_, err = read(t, "--database", "x")
	assert.ErrorContains(t, err, "SATCHEL_HTTPS")
	require.NoError(t, os.Unsetenv("SATCHEL_HTTPS"))
	assert.ErrorContains(t, Unknown([]string{"PATH=/bin", "SATCHEL_ADRESS=1"}), "SATCHEL_ADRESS is not a setting")
	assert.NoError(t, Unknown([]string{"PATH=/bin", "SATCHEL_ADDRESS=1", "SATCHEL_DEMO=demo", "SATCHEL_TEST_DATABASE=x", "OTHER_SATCHEL=1"}))
	file := filepath.Join(t.TempDir(), "services.json")
	require.NoError(t, os.WriteFile(file, []byte("{"), 0o600))
	p, err := read(t, "--database", "x", "--services", file)
	require.NoError(t, err)
	_, err = p.Open()
	assert.ErrorContains(t, err, "SATCHEL_SERVICES")
}
