package bench

import (
	"bufio"
	"fmt"
	"net"
	"net/url"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// hammer asks a server for paths, so many at once on connections that stay open, for so long. It returns the answers a
// second and how long each took, in milliseconds. It reads no more of an answer than it must, so that what is measured is the
// server; an answer that is not 200 fails the test.
func hammer(t *testing.T, address, cookie string, paths []string, atOnce int, during time.Duration) (float64, []float64) {
	t.Helper()
	host, err := url.Parse(address)
	require.NoError(t, err)
	var group sync.WaitGroup
	took := make([][]float64, atOnce)
	failed := make([]error, atOnce)
	began := time.Now()
	for lane := range atOnce {
		group.Go(func() {
			conn, err := net.Dial("tcp", host.Host)
			if err != nil {
				failed[lane] = err
				return
			}
			defer func() { _ = conn.Close() }()
			answers := bufio.NewReaderSize(conn, 64<<10)
			for i := lane; failed[lane] == nil && time.Since(began) < during; i++ {
				asked := time.Now()
				_, err = fmt.Fprintf(conn, "GET %s HTTP/1.1\r\nHost: %s\r\n%s\r\n", paths[i%len(paths)], host.Host, cookie)
				if err == nil {
					err = skipAnswer(answers)
				}
				failed[lane] = err
				took[lane] = append(took[lane], time.Since(asked).Seconds()*1000)
			}
		})
	}
	group.Wait()
	seconds := time.Since(began).Seconds()
	var all []float64
	for lane := range took {
		require.NoError(t, failed[lane])
		all = append(all, took[lane]...)
	}
	return float64(len(all)) / seconds, all
}

// skipAnswer reads one answer with a Content-Length and forgets it.
func skipAnswer(r *bufio.Reader) error {
	length := 0
	for first := true; ; first = false {
		line, err := r.ReadSlice('\n')
		if err != nil {
			return err
		}
		switch text := strings.TrimSpace(string(line)); {
		case first && !strings.HasPrefix(text, "HTTP/1.1 200"):
			return fmt.Errorf("answered %s", text)
		case text == "":
			_, err := r.Discard(length)
			return err
		case strings.HasPrefix(text, "Content-Length: "):
			if length, err = strconv.Atoi(text[len("Content-Length: "):]); err != nil {
				return err
			}
		}
	}
}
