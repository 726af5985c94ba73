package measure

import "testing"

func TestCount(t *testing.T) {
	for want, c := range map[string]struct {
		n   int
		one string
	}{
		"1 strip": {1, "strip"}, "0 strips": {0, "strip"}, "2 boxes of 50": {2, "box of 50"}, "4 feet": {4, "foot"},
		"3 joints, board face to post": {3, "joint, board face to post"}, "2 benches": {2, "bench"}, "2 days": {2,
			"day"}, "2 batteries": {2, "battery"}, "2 halves": {2, "half"},
	} {
		if got := Count(c.n, c.one); got != want {
			t.Errorf("%d of %q: %q, want %q", c.n, c.one, got, want)
		}
	}
}
