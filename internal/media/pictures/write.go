package pictures

import (
	"fmt"
	"os"
)

// makeOne makes one file of a picture.
func makeOne(base image, o Output, quickly bool) (Written, error) {
	result := base
	var err error
	then := func(next image, err error) error {
		if err == nil {
			if result != base {
				result.free()
			}
			result = next
		}
		return err
	}
	switch {
	case o.CropWidth > 0:
		err = then(base.crop(o.CropX, o.CropY, o.CropWidth, o.CropHeight))
	case o.Width != base.width() || o.Height != base.height():
		err = then(base.shrink(o.Width, o.Height))
	}
	defer func() {
		if result != base {
			result.free()
		}
	}()
	if err != nil {
		return Written{}, err
	}
	if o.PadWidth > 0 {
		colour := o.PadColour
		if colour < 0 {
			if err := then(result.inMemory()); err != nil {
				return Written{}, err
			}
			if colour, err = result.tint(); err != nil {
				return Written{}, err
			}
		}
		if err := then(result.pad(o.PadWidth, o.PadHeight, colour)); err != nil {
			return Written{}, err
		}
	}
	if o.Mark != "" || o.MarkFile != "" {
		if err := then(result.mark(o.Mark, o.MarkFile, o.MarkPlace, float64(o.MarkStrength)/100)); err != nil {
			return Written{}, err
		}
	}
	if o.Budget > 0 || o.Measure {
		if err := then(result.inMemory()); err != nil {
			return Written{}, err
		}
	}
	written := Written{Quality: o.Quality}
	if written.Quality, err = result.saveWithin(o, quickly); err != nil {
		return written, err
	}
	if o.Measure {
		written.Likeness, err = result.likeness(o)
	}
	return written, err
}

// leastQuality is the lowest quality at which a budget is tried to be kept.
const leastQuality = 10

// saveWithin writes a picture and returns at which quality. With a budget that is the highest one, by halving, at which the file is not
// larger; it is never larger, and where even the lowest quality would be, that is said.
func (i image) saveWithin(o Output, quickly bool) (int, error) {
	size := func(quality int) (int64, error) {
		if err := i.save(o.Path, o.Format, quality, quickly); err != nil {
			return 0, err
		}
		info, err := os.Stat(o.Path)
		if err != nil {
			return 0, err
		}
		return info.Size(), nil
	}
	bytes, err := size(o.Quality)
	if err != nil || o.Budget == 0 || bytes <= o.Budget {
		return o.Quality, err
	}
	least := min(leastQuality, o.Quality)
	low, high := least, o.Quality // low may fit, high does not
	if bytes, err = size(low); err != nil {
		return 0, err
	}
	if bytes > o.Budget {
		return 0, fmt.Errorf("it takes %d kB at the least at %d × %d pixels, and %d kB were allowed", (bytes+999)/1000,
			max(o.PadWidth, o.Width), max(o.PadHeight, o.Height), o.Budget/1000)
	}
	last := low // which it was written with
	for high-low > 1 {
		middle := (low + high) / 2
		if bytes, err = size(middle); err != nil {
			return 0, err
		}
		if last = middle; bytes <= o.Budget {
			low = middle
		} else {
			high = middle
		}
	}
	if last != low {
		_, err = size(low)
	}
	return low, err
}

// likeness is how like the file that was written is to a picture.
func (i image) likeness(o Output) (float64, error) {
	flat, err := i.flatten()
	if err != nil {
		return 0, err
	}
	defer flat.free()
	width, height := flat.width(), flat.height()
	was, err := flat.grey(width, height)
	if err != nil {
		return 0, err
	}
	made, err := thumbnail(o.Path, "", width, height)
	if err != nil {
		return 0, err
	}
	defer made.free()
	bare, err := made.flatten()
	if err != nil {
		return 0, err
	}
	defer bare.free()
	is, err := bare.grey(width, height)
	if err != nil {
		return 0, err
	}
	return ssim(was, is, width, height), nil
}

// ssim is the mean structural similarity of two pictures of brightness, at most 1 (Wang, Bovik, Sheikh and Simoncelli, Image Quality
// Assessment: From Error Visibility to Structural Similarity, 2004), in windows of 8 × 8 pixels, 4 apart.
func ssim(a, b []byte, width, height int) float64 {
	const side, step = 8, 4
	const c1, c2 = (0.01 * 255) * (0.01 * 255), (0.03 * 255) * (0.03 * 255)
	sum, windows := 0.0, 0
	for top := 0; top == 0 || top+side <= height; top += step {
		for left := 0; left == 0 || left+side <= width; left += step {
			var sa, sb, saa, sbb, sab, n float64
			for y := top; y < min(top+side, height); y++ {
				for x := left; x < min(left+side, width); x++ {
					p, q := float64(a[y*width+x]), float64(b[y*width+x])
					sa, sb, saa, sbb, sab, n = sa+p, sb+q, saa+p*p, sbb+q*q, sab+p*q, n+1
				}
			}
			ma, mb := sa/n, sb/n
			va, vb, cov := saa/n-ma*ma, sbb/n-mb*mb, sab/n-ma*mb
			sum += (2*ma*mb + c1) * (2*cov + c2) / ((ma*ma + mb*mb + c1) * (va + vb + c2))
			windows++
		}
	}
	return sum / float64(windows)
}
