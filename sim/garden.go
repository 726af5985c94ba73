package sim

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
)

// Timer is a tap timer of one valve that can be set over the line.
type Timer struct{ Program string }

// Answer does what it is told: ID, SET with a start, minutes, starts and days, and PROG, which tells what
// is set.
func (t *Timer) Answer(words []string) (string, bool) {
	switch {
	case len(words) == 1 && words[0] == "ID":
		return "ID TIMER STAND-IN 1", true
	case len(words) == 1 && words[0] == "PROG":
		if t.Program == "" {
			return "P NONE", true
		}
		return "P " + t.Program, true
	case len(words) == 5 && words[0] == "SET":
		var minutes, starts int
		if n, err := fmt.Sscanf(words[2]+" "+words[3], "%d %d", &minutes, &starts); n != 2 || err != nil || minutes < 1 ||
			minutes > 240 || starts < 1 || starts > 4 {
			return "E 4", true
		}
		t.Program = strings.Join(words[1:], " ")
		return "OK", true
	}
	return "E 3", true
}

// Probe is a moisture probe in invented soil that dries as it is read.
type Probe struct {
	Wet  float64 // per cent of volume
	Rand *rand.Rand
}

// Answer does what it is told: ID, and MOIST, which tells per cent of volume and degrees.
func (p *Probe) Answer(words []string) (string, bool) {
	switch {
	case len(words) == 1 && words[0] == "ID":
		return "ID PROBE STAND-IN 1", true
	case len(words) == 1 && words[0] == "MOIST":
		p.Wet = math.Max(8, p.Wet-0.05)
		return fmt.Sprintf("M %.1f 17.5", p.Wet+p.Rand.NormFloat64()*0.2), true
	}
	return "E 3", true
}
