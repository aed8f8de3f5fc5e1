// Package keeping says how long removed items are kept, and how far the rights in items go.
package keeping

import "time"

// BinDays is how many days an item stays in the bin.
const BinDays = 60

// Due is the moment from which on an item that was put in the bin may be cleared away.
func Due(binned time.Time) time.Time { return binned.AddDate(0, 0, BinDays) }

// DaysLeft is how many days an item still stays in the bin, the one that has begun counted in; 0 when it is due.
func DaysLeft(binned, now time.Time) int {
	left := Due(binned).Sub(now)
	if left <= 0 {
		return 0
	}
	const day = 24 * time.Hour
	return int((left + day - 1) / day)
}
