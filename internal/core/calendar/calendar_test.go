package calendar

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestReadCapture(t *testing.T) {
	moment := time.Date(2025, 5, 17, 10, 21, 37, 0, time.UTC)
	cases := []struct{ value, offset, zone string }{
		{"2025:05:17 10:21:37", "", ""},
		{"2025:05:17 10:21:37", "+01:00", "+01:00"},
		{"2025:05:17 10:21:37", "nonsense", ""},
		{"2025-05-17T10:21:37.123-04:00", "+01:00", "-04:00"},
		{" 2025:05:17 10:21:37Z ", "", "Z"},
	}
	for _, c := range cases {
		got := ReadCapture(c.value, c.offset)
		require.NotNil(t, got, c.value)
		assert.Equal(t, moment, got.Local, c.value)
		assert.Equal(t, c.zone, got.Zone, c.value)
	}
}

func TestUndatedStaysUndated(t *testing.T) {
	for _, value := range []string{"", "0000:00:00 00:00:00", "2025:13:40 10:00:00", "yesterday", "2025:02:30 10:00:00",
		"1000:01:01 00:00:00"} {
		assert.Nil(t, ReadCapture(value, "+01:00"), "%q", value)
	}
}
