package outputs

import (
	"fmt"
	"strconv"
	"strings"
	"time"
)

// Item is an item of which files are made, with the folders that it lives in, the outermost first.
type Item struct {
	Source
	Title, FileName string
	Taken           *time.Time
	Folders         []string
}

// Arranging says how the files of several items are named and put beside each other. The zero value puts all of them together, each
// named by the pattern of its size.
type Arranging struct {
	Pattern  string // in place of those of the sizes, unless it is ""
	Folders  bool   // in the folders of the items
	Numbered bool   // a number first, in the order of the items, in each folder from 1
	Total    int    // how many items there are where these are the first of more, or 0
}

// File is one file that will be made: of the item and by the size at these places. Problem is ErrNoDimensions, or nil.
type File struct {
	Item, Size int
	Plan       Plan
	Name       string // with slashes where it is in folders
	Problem    error
}

// Arrange says which files several sizes make of items, size by size in the order of the items, and what each is called: no two are
// called the same. Where there are several sizes each has a folder of its own.
func Arrange(items []Item, sizes []Size, how Arranging) []File {
	files := make([]File, 0, len(items)*len(sizes))
	total := max(how.Total, len(items))
	tops := make([]string, len(sizes))
	for s, size := range sizes {
		tops[s] = CleanName(size.Name)
	}
	tops = Unique(tops)
	for s, size := range sizes {
		if how.Pattern != "" {
			size.Pattern = how.Pattern
		}
		inFolder := map[string]int{}
		for i, item := range items {
			plan, err := Make(item.Source, size)
			format := plan.Format
			if format == "" {
				format = size.Format
			}
			v := Values{Title: item.Title, FileName: item.FileName, Number: i + 1, Total: total, Taken: item.Taken, Size: size.Name,
				Width: plan.Size.Width, Height: plan.Size.Height}
			var folders []string
			if len(sizes) > 1 {
				folders = append(folders, tops[s])
			}
			if how.Folders {
				folders = append(folders, item.Folders...)
			}
			at := strings.Join(folders, "/")
			inFolder[at]++
			pattern := size.Pattern
			if how.Numbered {
				pattern = "{n} " + pattern
				v.Number = inFolder[at]
			}
			name := Name(pattern, v, format)
			if at != "" {
				name = at + "/" + name
			}
			files = append(files, File{Item: i, Size: s, Plan: plan, Name: name, Problem: err})
		}
	}
	names := make([]string, len(files))
	for i := range files {
		names[i] = files[i].Name
	}
	for i, name := range Unique(names) {
		files[i].Name = name
	}
	return files
}

// NumberedFolder is the name of a folder with its place among its neighbours first, counted from 1, so that it sorts there anywhere.
func NumberedFolder(name string, place, of int) string {
	return fmt.Sprintf("%0*d %s", max(2, len(strconv.Itoa(of))), place, name)
}
