// Package arrival holds the rules of bringing in: what can come of a file, how the numbers of an intake add up, what is
// done with a duplicate, which files belong together, and which are not meant.
package arrival

import (
	"fmt"
	"path"
	"slices"
	"strings"
)

// State is where a file of an intake stands. It has exactly one.
type State string

// The states: the first two are on the way, the others are outcomes. A sidecar has Joined its picture and counts as no
// file of its own.
const (
	Waiting   State = "waiting"
	Arrived   State = "arrived"
	Added     State = "added"
	Version   State = "version"
	Skipped   State = "skipped"
	Refused   State = "refused"
	Cancelled State = "cancelled"
	Joined    State = "joined"
)

// Settled says whether a state is an outcome.
func (s State) Settled() bool { return s != Waiting && s != Arrived }

// Sums are the numbers of an intake. Dropped is always the sum of the others.
type Sums struct {
	Dropped, Added, Versions, Skipped, Refused, Cancelled, OnTheWay, Joined int
}

// Count adds up the states of the files of an intake. Sidecars, which are part of their picture, are counted apart.
func Count(states []State) Sums {
	var s Sums
	for _, state := range states {
		if state == Joined {
			s.Joined++
			continue
		}
		s.Dropped++
		switch state {
		case Added:
			s.Added++
		case Version:
			s.Versions++
		case Skipped:
			s.Skipped++
		case Refused:
			s.Refused++
		case Cancelled:
			s.Cancelled++
		default:
			s.OnTheWay++
		}
	}
	return s
}

// Policy says what is done with a file whose content is here already.
type Policy string

// The policies; Skip is what is done unless somebody chose otherwise.
const (
	Skip       Policy = "skip"
	KeepBoth   Policy = "keep_both"
	NewVersion Policy = "version"
)

// Policies lists every policy.
var Policies = []Policy{Skip, KeepBoth, NewVersion}

// Outcome is what becomes of a file that can be taken: with a duplicate here it follows the policy, without it is added.
func (p Policy) Outcome(duplicate bool) State {
	switch {
	case !duplicate || p == KeepBoth:
		return Added
	case p == NewVersion:
		return Version
	}
	return Skipped
}

// strays are files that systems leave in folders; nobody means to bring them in.
var strays = []string{"thumbs.db", "desktop.ini", "ehthumbs.db", "icon\r", "$recycle.bin", "system volume information", "__macosx"}

// Stray says whether a file, by its name and the folder path it lay in, is hidden or left by a system.
func Stray(folder, name string) bool {
	for _, part := range append(strings.Split(folder, "/"), name) {
		if strings.HasPrefix(part, ".") && part != "." && part != ".." || slices.Contains(strays, strings.ToLower(part)) {
			return true
		}
	}
	return false
}

// LeftBySystem says of a file on a drive whether a system or a program left it there for itself: what Stray knows, and files that programs
// keep only while they work on another one.
func LeftBySystem(name string) bool {
	lower := strings.ToLower(name)
	return Stray("", name) || strings.HasPrefix(lower, "~$") || strings.HasSuffix(lower, ".tmp") || strings.HasSuffix(lower, "~")
}

// Stem is a file name without its ending, in lower case: what a raw picture, its JPEG and their sidecar share.
func Stem(name string) string {
	return strings.ToLower(strings.TrimSuffix(name, path.Ext(name)))
}

// IsSidecar says whether a file is an XMP sidecar by its name.
func IsSidecar(name string) bool { return strings.EqualFold(path.Ext(name), ".xmp") }

// Sidecars finds for each sidecar among files, given as folder path and name, the index of the picture that it belongs
// to: in the same folder, of the name without ".xmp", whole (a.jpg.xmp to a.jpg) before stem (a.xmp to a.dng). Sidecars
// without a picture are left out. Of several pictures with one stem a raw one is chosen, since raws are what cannot be
// written into.
func Sidecars(files [][2]string) map[int]int {
	whole, stems := map[string]int{}, map[string]int{}
	for i, f := range files {
		if IsSidecar(f[1]) {
			continue
		}
		whole[strings.ToLower(f[0]+"/"+f[1])] = i
		stem := strings.ToLower(f[0]) + "/" + Stem(f[1])
		if old, taken := stems[stem]; !taken || !RawName(files[old][1]) && RawName(f[1]) {
			stems[stem] = i
		}
	}
	out := map[int]int{}
	for i, f := range files {
		if !IsSidecar(f[1]) {
			continue
		}
		base := strings.ToLower(f[0]) + "/" + Stem(f[1])
		if p, ok := whole[base]; ok {
			out[i] = p
		} else if p, ok := stems[base]; ok {
			out[i] = p
		}
	}
	return out
}

var rawEndings = []string{".3fr", ".arw", ".cr2", ".cr3", ".crw", ".dcr", ".dng", ".erf", ".iiq", ".kdc", ".mef", ".mos", ".mrw",
	".nef", ".nrw",
	".orf", ".pef", ".raf", ".raw", ".rw2", ".rwl", ".sr2", ".srf", ".srw", ".x3f"}

// RawName says whether a file is camera raw by its ending. Only pairs are found by it; what a file is, its content tells.
func RawName(name string) bool { return slices.Contains(rawEndings, strings.ToLower(path.Ext(name))) }

// Limits are what a brand takes. StorageLimit is 0 when there is none; Used is what its files take now. All in bytes.
type Limits struct {
	LargestFile  int64
	Kinds        []string
	StorageLimit int64
	Used         int64
}

// Check says why a file of a kind and size is not taken, or "". An empty kind is not checked.
func (l Limits) Check(kind string, bytes int64) string {
	switch {
	case bytes == 0:
		return "The file is empty."
	case bytes > l.LargestFile:
		return fmt.Sprintf("The file has %s; up to %s are taken.", Bytes(bytes), Bytes(l.LargestFile))
	case kind != "" && !slices.Contains(l.Kinds, kind):
		return fmt.Sprintf("This brand does not take %s.", plural[kind])
	case l.StorageLimit > 0 && l.Used+bytes > l.StorageLimit:
		return fmt.Sprintf("The brand's storage is full: %s of %s are used.", Bytes(l.Used), Bytes(l.StorageLimit))
	}
	return ""
}

// KindNames are the kinds of items.
var KindNames = []string{"picture", "clip", "animation", "vector", "document", "file"}

var plural = map[string]string{"picture": "pictures", "clip": "clips", "animation": "animations", "vector": "vector drawings",
	"document": "documents", "file": "other files"}

// Bytes says a number of bytes in words with decimal units, as "4.3 GB".
func Bytes(n int64) string {
	value, unit := float64(n), "bytes"
	for _, u := range []string{"kB", "MB", "GB", "TB"} {
		if value < 1000 {
			break
		}
		value, unit = value/1000, u
	}
	if unit == "bytes" || value >= 100 {
		return fmt.Sprintf("%.0f %s", value, unit)
	}
	return strings.Replace(fmt.Sprintf("%.1f %s", value, unit), ".0 ", " ", 1)
}
