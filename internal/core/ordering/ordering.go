// Package ordering keeps things in an order made by hand.
//
// A place in a manual order is a key: a fraction between 0 and 1 written in base 62 without its leading "0." and without
// trailing zeros. Keys compare bytewise, so the database orders them with the collation "C". Between any two different
// keys lies another one, so moving one thing never renumbers the rest.
package ordering

import (
	"errors"
	"strings"
)

const digits = "0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz"

// ErrOrder is returned for keys that are not in order or not well formed.
var ErrOrder = errors.New("ordering: keys are not in order")

// headDigits leading digits are counted up by step when something goes to an open end, so that keys stay short there:
// about 100,000 additions fit before a key grows longer.
const (
	headDigits = 6
	step       = 62 * 62 * 62
	headRange  = step * step
)

// Between returns a key after a and before b. An empty a stands for the beginning, an empty b for the end.
func Between(a, b string) (string, error) {
	if !valid(a) || !valid(b) || (b != "" && a >= b) {
		return "", ErrOrder
	}
	switch {
	case a == "" && b == "":
		return "V", nil
	case b == "":
		if n := head(a) + step; n < headRange {
			return fromHead(n), nil
		}
	case a == "":
		if n := head(b) - step; n > 0 {
			return fromHead(n), nil
		}
	}
	return middle(a, b), nil
}

// Spread returns n keys in ascending order between a and b, which may be empty as in Between.
func Spread(a, b string, n int) ([]string, error) {
	out := make([]string, 0, n)
	if b == "" {
		for range n {
			key, err := Between(a, b)
			if err != nil {
				return nil, err
			}
			out, a = append(out, key), key
		}
		return out, nil
	}
	if n == 0 {
		return out, nil
	}
	key, err := Between(a, b)
	if err != nil {
		return nil, err
	}
	left, err := Spread(a, key, n/2)
	if err != nil {
		return nil, err
	}
	right, err := Spread(key, b, n-n/2-1)
	return append(append(left, key), right...), err
}

func valid(key string) bool {
	for i := range len(key) {
		if strings.IndexByte(digits, key[i]) < 0 {
			return false
		}
	}
	return !strings.HasSuffix(key, "0")
}

func head(key string) int {
	n := 0
	for i := range headDigits {
		d := 0
		if i < len(key) {
			d = strings.IndexByte(digits, key[i])
		}
		n = n*62 + d
	}
	return n
}

func fromHead(n int) string {
	key := make([]byte, headDigits)
	for i := headDigits - 1; i >= 0; i-- {
		key[i] = digits[n%62]
		n /= 62
	}
	return strings.TrimRight(string(key), "0")
}

// middle halves the gap between two keys, digit by digit; an empty b counts as 1.
func middle(a, b string) string {
	var out []byte
	for i := 0; ; i++ {
		da, db := 0, 62
		if i < len(a) {
			da = strings.IndexByte(digits, a[i])
		}
		if b != "" {
			db = 0
			if i < len(b) {
				db = strings.IndexByte(digits, b[i])
			}
		}
		if db-da > 1 {
			return string(append(out, digits[(da+db)/2]))
		}
		out = append(out, digits[da])
		if db > da { // from here on anything after a is before b
			b = ""
		}
	}
}
