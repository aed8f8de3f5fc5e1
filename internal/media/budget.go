package media

import (
	"fmt"
	"os"

	"brightsatchel/internal/media/clips"
)

// Bounds of what a film is brought to, in bits a second: below them nobody makes anything out.
const (
	leastVideo = 40_000
	leastSound = 32_000
	mostSound  = 128_000
	mostTakes  = 4
)

// withinBudget makes a film so that its file takes at most so many bytes, or refuses it in words. It is made by its quality first, and when
// that is too large by the bits a second that its length leaves, less each time that it comes out too large. A budget of 0 is none.
func withinBudget(budget int64, edit *clips.Edit, target string, write func() error) error {
	share := 0.97 // what the container takes is left out
	for take := 0; ; take++ {
		if err := write(); err != nil || budget == 0 {
			return err
		}
		info, err := os.Stat(target)
		if err != nil || info.Size() <= budget {
			return err
		}
		if take > 0 {
			share *= 0.97 * float64(budget) / float64(info.Size())
		}
		all := int(share * float64(budget) * 8 / max(0.1, edit.Seconds))
		edit.SoundBits = min(mostSound, max(leastSound, all/5))
		if edit.Mute {
			edit.SoundBits = 0
		}
		edit.VideoBits = all - edit.SoundBits
		if edit.VideoBits < leastVideo || take == mostTakes {
			return &Refused{Why: fmt.Sprintf("It plays for %.0f s, which is too long for the %d kB that were allowed. Trim it, or allow more.",
				edit.Seconds, budget/1000)}
		}
	}
}
