package bench

import (
	"fmt"
	"net/http"
	"testing"
	"time"

	"brightsatchel/internal/store/storetest"

	"github.com/stretchr/testify/require"
)

// TestMergingTags gives and merges tags of 40,000 items in a library of 1,000,000, by themselves: the person waits for the answer, and
// the pieces follow.
func TestMergingTags(t *testing.T) {
	measured(t)
	d := deskIn(t, "bench_merging", largeLibrary)
	const brand = "/api/brands/bench"
	everything := object{"place": "unfiled", "filter": object{"field": "aside", "missing": true}}
	for i := range warm + 10 {
		name := warmed(i)
		d.ask("", http.MethodPost, brand+"/tags", object{"selection": object{"everything": everything}, "add": fmt.Sprint("new ", i)}, nil)
		d.untilDone("", time.Now())
		var into, from int64
		require.NoError(t, storetest.SQL(d.h.DB).Get(&into, `select id from tag where name = $1`, fmt.Sprint("kite ", 600+6*i)))
		require.NoError(t, storetest.SQL(d.h.DB).Get(&from, `select id from tag where name = $1`, fmt.Sprint("new ", i)))
		began := time.Now()
		d.ask(name("a tag of 40,000 merged (the answer)"), http.MethodPost, brand+"/tags/merge", object{"into": into, "from": []int64{from}}, nil)
		d.untilDone(name("a tag of 40,000 merged (until done)"), began)
	}
	t.Logf("the answers, in ms: %.0f", d.took["a tag of 40,000 merged (the answer)"])
	compared(t, nil, d.took)
}
