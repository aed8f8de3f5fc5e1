package likeness

// Together is pictures that lie together in a row: from where to before where, at which place is the one that stands for them, and why
// that, or "". Unfolded ones are shown one by one all the same.
type Together struct {
	From, To, Front int
	Why             string
	Unfolded        bool
}

// Lay puts a row of n pictures together, of which same says whether two lie in one pile. It returns the places of those that are shown,
// in order, and what lies together: of what is not unfolded one is shown, the best if there is a reason for one and else the first.
func Lay(n int, same func(a, b int) bool, shot func(at int) Shot, unfolded func(id int64) bool) (shown []int32, piles []Together) {
	shown = make([]int32, 0, n)
	next := 0
	alone := func(to int) {
		for ; next < to; next++ {
			shown = append(shown, int32(next))
		}
	}
	var row []Shot
	for from, to := range Piles(n, same) {
		alone(from)
		row = row[:0]
		pile := Together{From: from, To: to, Front: from}
		for at := from; at < to; at++ {
			row = append(row, shot(at))
			pile.Unfolded = pile.Unfolded || unfolded(row[at-from].ID)
		}
		if best, why := Best(row); best >= 0 {
			pile.Front, pile.Why = from+best, why
		}
		if pile.Unfolded {
			alone(to)
		} else {
			shown = append(shown, int32(pile.Front))
			next = to
		}
		piles = append(piles, pile)
	}
	alone(n)
	return shown, piles
}
