package access

// Allowance is how much of an item somebody may have. It is the one answer for pictures, films and posters, of members and
// of guests; what is handed out never goes beyond it.
type Allowance struct {
	// Original says that the file itself may be had.
	Original bool
	// Take says that files may be saved, in the sizes that were chosen for it.
	Take bool
	// Largest is the longest side that anything handed out has, in pixels; 0 sets no bound.
	Largest int
}

// Allowance is what the viewer may have of an item in a folder that they may look at; 0 stands for Unfiled. Whoever may bring files into
// the folder, and save over those in it, works with the files themselves.
func (v *Viewer) Allowance(folder int64) Allowance {
	take := v.May(Download).Folder(folder)
	return Allowance{Original: take || v.May(BringIn).Folder(folder), Take: take}
}
