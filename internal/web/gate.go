package web

import (
	"net/http"
	"slices"

	"brightsatchel/internal/web/drive"
)

// longestAddress is how long the address of a request may be, in bytes: the longest one that a screen asks for is a few hundred.
const longestAddress = 8 << 10

// methods are the methods that anything here answers to.
var methods = func() []string {
	all := append([]string{http.MethodPost, http.MethodPatch}, drive.Methods...)
	slices.Sort(all)
	return slices.Compact(all)
}()

// gated refuses, before anything is read, asked or counted, what no route could be meant by, and lets no body hold its connection.
func (p patience) gated(next http.HandlerFunc) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		switch {
		case !slices.Contains(methods, r.Method):
			w.Header().Set("Connection", "close") // what follows on it is as made up
			writeProblem(w, problem(http.StatusNotImplemented, "Not understood", "Requests of that method are not answered here."))
		case len(r.RequestURI) > longestAddress:
			w.Header().Set("Connection", "close")
			writeProblem(w, problem(http.StatusRequestURITooLong, "Not understood", "The address of the request is too long."))
		default:
			p.patient(w, r, next)
		}
	})
}
