package restart

import (
	"bytes"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/sync/errgroup"

	"brightsatchel/e2e/processtest"
	"brightsatchel/internal/media/mediatest"
	"brightsatchel/internal/store/storetest"
)

// program is a drive as a program on somebody's computer has it open: what fails is asked again.
type program struct {
	s        *processtest.Process
	password string
	client   *http.Client
}

// ask asks until the server answers, and gives its status and what it sent.
func (p *program) ask(method, name string, body []byte, more map[string]string) (int, []byte, error) {
	for range 500 {
		request, err := http.NewRequest(method, "http://"+p.s.Address+"/dav/Library/"+name, bytes.NewReader(body))
		if err != nil {
			return 0, nil, err
		}
		request.SetBasicAuth(processtest.Email, p.password)
		for key, value := range more {
			request.Header.Set(key, value)
		}
		answer, err := p.client.Do(request)
		if err == nil && answer.StatusCode < 500 {
			got, err := io.ReadAll(answer.Body)
			if closed := answer.Body.Close(); err == nil && closed == nil {
				return answer.StatusCode, got, nil
			}
		} else if err == nil {
			_ = answer.Body.Close()
		}
		time.Sleep(50 * time.Millisecond)
	}
	return 0, nil, fmt.Errorf("%s %s was never answered", method, name)
}

// TestAKilledServerLosesNothingOfTheDrive kills the server while four programs copy files onto the drive, save over them, rename and remove
// them, and while it brings them in. Whatever was answered is so in the end, and nothing is there twice.
func TestAKilledServerLosesNothingOfTheDrive(t *testing.T) {
	s := processtest.New(t)
	var made struct{ Password string }
	s.Send("POST", "/api/brands/restart/drive-passwords", map[string]string{"Content-Type": "application/json"},
		bytes.NewReader([]byte(`{"name":"a program","present":"`+processtest.Password+`"}`)), &made)
	p := &program{s, made.Password, &http.Client{Timeout: 20 * time.Second}}
	const lanes, each, kills = 4, 9, 8
	want := make([]map[string][32]byte, lanes)
	var group errgroup.Group
	for lane := range lanes {
		want[lane] = map[string][32]byte{}
		group.Go(func() error {
			random := rand.New(rand.NewPCG(uint64(lane), 11))
			for i := range each {
				time.Sleep(time.Duration(random.IntN(900)) * time.Millisecond)
				name := fmt.Sprintf("shot-%d-%d.jpg", lane, i)
				data := mediatest.JPEG(t, 500+lane, 400+i, uint8(20*lane+i))
				if status, said, err := p.ask("PUT", name, data, nil); err != nil || status >= 300 {
					return fmt.Errorf("copying %s: %d %s %w", name, status, said, err)
				}
				want[lane][name] = sha256.Sum256(data)
				switch i % 3 {
				case 1: // saved once more
					data = mediatest.JPEG(t, 900+lane, 400+i, uint8(20*lane+i))
					if status, said, err := p.ask("PUT", name, data, nil); err != nil || status >= 300 {
						return fmt.Errorf("saving %s: %d %s %w", name, status, said, err)
					}
					want[lane][name] = sha256.Sum256(data)
				case 2: // the one before is removed; asked again, it may be gone already
					before := fmt.Sprintf("shot-%d-%d.jpg", lane, i-2)
					if status, said, err := p.ask("DELETE", before, nil, nil); err != nil || status >= 300 && status != http.StatusNotFound {
						return fmt.Errorf("removing %s: %d %s %w", before, status, said, err)
					}
					delete(want[lane], before)
				}
			}
			return nil
		})
	}
	for range kills {
		time.Sleep(time.Duration(500+rand.IntN(1200)) * time.Millisecond)
		s.Kill()
		s.Start()
	}
	require.NoError(t, group.Wait())
	require.Eventually(t, func() bool {
		var open int
		err := storetest.SQL(s.DB).
			Get(&open, `select (select count(*) from drive_file) + (select count(*) from intake where finished_at is null)`)
		return err == nil && open == 0
	}, 3*time.Minute, 100*time.Millisecond, "all of it is brought in")
	all := map[string][32]byte{}
	for _, lane := range want {
		for name, sum := range lane {
			all[name] = sum
			status, got, err := p.ask("GET", name, nil, nil)
			require.NoError(t, err)
			assert.Equal(t, http.StatusOK, status, name)
			assert.Equal(t, sum, sha256.Sum256(got), name)
		}
	}
	var names []string
	require.NoError(t, storetest.SQL(s.DB).Select(&names, `select file_name from asset where binned_at is null order by 1`))
	there, err := json.Marshal(names)
	require.NoError(t, err)
	assert.Len(t, names, len(all), "nothing is there twice: %s", there)
}
