package website_test

import (
	"io"
	"net/http"
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"brightsatchel/standins/website"
)

func TestAPageIsEdited(t *testing.T) {
	server := httptest.NewServer(website.New())
	defer server.Close()
	read := func(path string) string {
		answer, err := http.Get(server.URL + path)
		require.NoError(t, err)
		defer func() { _ = answer.Body.Close() }()
		text, err := io.ReadAll(answer.Body)
		require.NoError(t, err)
		return string(text)
	}
	assert.Contains(t, read("/"), "Pennick Moor Fliers")
	_, err := http.PostForm(server.URL+"/save", url.Values{"title": {"Kites <3"}, "text": {"Words"}, "picker": {"https://a.example/pick/x"},
		"block": {"<figure id=\"a\"></figure>", "  ", "<script async src=\"https://a.example/embed.js\"></script>"}})
	require.NoError(t, err)
	page := read("/")
	assert.Contains(t, page, "Kites &lt;3")
	assert.Contains(t, page, `<figure id="a"></figure>`)
	assert.Equal(t, 2, strings.Count(page, `class="block"`), "what is empty is no block")
	assert.Contains(t, read("/edit"), "https://a.example/pick/x")
}
