package record

import (
	"strings"

	"chamfer/core/measure"
)

// Size is one that was measured, beside the one that was planned. Its key says of what: how far a bed's soil sank
// ([SunkKey], planned is how deep it lay), what cuts of the saw took ([KerfKey], planned is how many nanometres that
// many cuts were reckoned at), or any size of a step.
type Size struct {
	Key      string         `json:"key"`
	Planned  measure.Length `json:"planned"`
	Measured measure.Length `json:"measured"`
}

// Keys of sizes begin so.
const (
	SunkKey = "sunk:" // and the bed
	KerfKey = "kerf:" // and how many cuts
	StepKey = "step:" // and the step, a bar, and what was measured
)

// Sunk are those that say how far soil sank.
func Sunk(list []Size) (sunk []Sank) {
	for _, s := range list {
		if bed, ok := strings.CutPrefix(s.Key, SunkKey); ok {
			sunk = append(sunk, Sank{Bed: bed, Deep: s.Planned, Sunk: s.Measured})
		}
	}
	return sunk
}

// Trials are those that say what cuts took.
func Trials(list []Size) (trials []Trial) {
	for _, s := range list {
		cuts, ok := strings.CutPrefix(s.Key, KerfKey)
		if n := 0; ok && scan(cuts, &n) {
			trials = append(trials, Trial{Cuts: n, Lost: s.Measured})
		}
	}
	return trials
}

func scan(s string, n *int) bool {
	for _, r := range s {
		if r < '0' || r > '9' || *n > 10_000 {
			return false
		}
		*n = *n*10 + int(r-'0')
	}
	return *n > 0
}

// Photo is a picture of the work as it goes with a project's file.
type Photo struct {
	Step    string `json:"step,omitempty"`
	Caption string `json:"caption,omitempty"`
	At      string `json:"at,omitempty"` // when it was taken in (RFC 3339)
	JPEG    []byte `json:"jpeg"`
}
