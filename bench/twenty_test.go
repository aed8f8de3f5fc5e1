package bench

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"os"
	"strconv"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"brightsatchel/internal/passwords"
	"brightsatchel/internal/store"
)

const (
	colleagues = 20
	thinking   = 300 * time.Millisecond // between two acts of one person, on average
)

// TestTwentyPeople has twenty coordinators look, find, star, tag, move and file at once for five minutes (SATCHEL_BENCH_SECONDS for as
// many), and tells for each act how long it took while it went on. Every answer is one that a person expects: not one is an error.
func TestTwentyPeople(t *testing.T) {
	measured(t)
	during := 5 * time.Minute
	if seconds, err := strconv.Atoi(os.Getenv("SATCHEL_BENCH_SECONDS")); err == nil {
		during = time.Duration(seconds) * time.Second
	}
	d := deskIn(t, "bench_twenty", largeLibrary)
	people := d.colleagues()
	var mu sync.Mutex
	took, wrong := map[string][]float64{}, map[string]int{}
	ends := time.Now().Add(during)
	var all sync.WaitGroup
	for i, client := range people {
		all.Go(func() {
			for n := 0; time.Now().Before(ends); n++ {
				what, method, path, body := mixedAct(i, n, d.items)
				began := time.Now()
				status, err := sendAct(client, method, d.address+path, body)
				milliseconds := time.Since(began).Seconds() * 1000
				mu.Lock()
				took[what] = append(took[what], milliseconds)
				if err != nil || status != http.StatusOK {
					wrong[fmt.Sprintf("%s: %d %v", what, status, err)]++
				}
				mu.Unlock()
				time.Sleep(rand.N(2 * thinking))
			}
		})
	}
	all.Wait()
	acts := 0
	for what, times := range took {
		acts += len(times)
		t.Logf("%-34s %6d times: median %6.1f p95 %6.1f ms", what, len(times), median(times), percentile(times, 95))
	}
	t.Logf("%d people, %d items, %.0f s: %d acts", colleagues, d.items, during.Seconds(), acts)
	require.Empty(t, wrong)
}

// colleagues makes coordinators and signs each of them in.
func (d *desk) colleagues() (out []*http.Client) {
	hash, err := passwords.Hash("correct horse")
	require.NoError(d.t, err)
	for i := range colleagues {
		email := fmt.Sprintf("colleague%d@bench.example", i)
		require.NoError(d.t, d.h.DB.InTx(context.Background(), func(tx *store.Tx) error {
			_, err := tx.ExecContext(
				context.Background(),
				`with made as (insert into person (name, email, password_hash) values ($1, $2, $3) returning id)
				insert into membership (brand_id, person_id, role) select brand.id, made.id, 'coordinator' from made, brand where code = 'bench'`,
				fmt.Sprint("Colleague ", i),
				email,
				hash,
			)
			return err
		}))
		jar, err := cookiejar.New(nil)
		require.NoError(d.t, err)
		client := &http.Client{Jar: jar}
		status, err := sendAct(client, http.MethodPost, d.address+"/api/session", map[string]any{"email": email, "password": "correct horse"})
		require.NoError(d.t, err)
		require.Equal(d.t, http.StatusOK, status)
		out = append(out, client)
	}
	return out
}

// mixedAct is what one of them does next: mostly looking, a third of it changing.
func mixedAct(person, n, items int) (what, method, path string, body any) {
	const brand = "/api/brands/bench"
	folder := 1 + rand.IntN(items/200)
	own := []int64{int64(1 + person*1000 + n%900)} // each works at other items most of the time
	shared := []int64{int64(1 + rand.IntN(50))}
	ids := func(list []int64) map[string]any { return map[string]any{"ids": list} }
	switch n % 12 {
	case 0, 6:
		return "open a folder", http.MethodPost, brand + "/sheet?most=2000", map[string]any{"place": "folder", "id": folder}
	case 1:
		return "rows of a screen", http.MethodPost, brand + "/rows", ids([]int64{own[0], own[0] + 1, own[0] + 2, own[0] + 3})
	case 2:
		return "a search", http.MethodPost, brand + "/sheet?most=2000", map[string]any{"place": "everything",
			"filter": map[string]any{"field": "words", "names": []string{[]string{"gull", "harbour", "kite"}[n%3]}}}
	case 3:
		return "give stars", http.MethodPost, brand + "/stars", map[string]any{"selection": ids(own), "stars": rand.IntN(6)}
	case 4:
		return "counts of the path", http.MethodGet, brand + "/overview", nil
	case 5:
		return "tag one", http.MethodPost, brand + "/tags", map[string]any{"selection": ids(own), "add": fmt.Sprint("kite ", 1+rand.IntN(9))}
	case 7:
		return "give stars to what all star", http.MethodPost, brand + "/stars", map[string]any{"selection": ids(shared), "stars": rand.IntN(6)}
	case 8:
		return "facets", http.MethodPost, brand + "/facets", map[string]any{"place": "folder", "id": folder, "below": true}
	case 9:
		return "move one", http.MethodPost, brand + "/move", map[string]any{"selection": ids(own), "folder": folder}
	case 10:
		return "folders with their counts", http.MethodGet, brand + "/folders", nil
	}
	return "one item", http.MethodGet, fmt.Sprintf("%s/assets/%d", brand, own[0]), nil
}

func sendAct(client *http.Client, method, address string, body any) (int, error) {
	text, err := json.Marshal(body)
	if err != nil {
		return 0, err
	}
	var sent io.Reader
	if body != nil {
		sent = bytes.NewReader(text)
	}
	request, err := http.NewRequest(method, address, sent)
	if err != nil {
		return 0, err
	}
	request.Header.Set("Content-Type", "application/json")
	answer, err := client.Do(request)
	if err != nil {
		return 0, err
	}
	_, err = io.Copy(io.Discard, answer.Body)
	_ = answer.Body.Close()
	return answer.StatusCode, err
}
