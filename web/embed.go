// Package web holds the built front end.
package web

import (
	"embed"
	"io/fs"
)

//go:embed all:dist
var dist embed.FS

// Files is the built front end: index.html, gallery.html and assets/, with .br and .gz beside what compresses well.
func Files() fs.FS {
	files, err := fs.Sub(dist, "dist")
	if err != nil {
		panic(err) // the folder is part of the program
	}
	return files
}
