// Package record holds what a job really took against what was planned, and what is learnt from it: an estimate moves
// from the published value towards one's own as that rests on more, and never further.
package record

import (
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"

	"chamfer/core/measure"
	"chamfer/core/work"
)

// Taking is what one step took, as it was written down.
type Taking struct {
	Step    string `json:"step"`
	Minutes int    `json:"minutes"` // by the clock
	People  int    `json:"people"`
	Note    string `json:"note,omitempty"`
}

// Most that is written down of one step: a working month, and a note.
const (
	mostMinutes = 31 * 12 * 60
	mostPeople  = 12
	MostNote    = 500
)

var lasted = regexp.MustCompile(`^(?:(\d+(?:[.,]\d+)?) ?(?:h|hours?)?)?(?:[: ]*(\d+) ?(?:min|minutes?|m)?)?$`)

// Read reads how long something took, by the clock and by how many: "45 min", "1 h 30 min", "1:30", "1.5 h by 2". A
// number alone is minutes.
func Read(text string) (minutes, people int, err error) {
	fault := fmt.Errorf("%q is no time: write what it took by the clock, and by how many where not by one alone: 45 min,"+
		" 1 h 30 min, 1.5 h by 2", text)
	long, by, more := strings.Cut(strings.ToLower(strings.TrimSpace(text)), " by ")
	people = 1
	if more {
		if people, err = strconv.Atoi(strings.TrimSpace(by)); err != nil || people < 1 || people > mostPeople {
			return 0, 0, fault
		}
	}
	long = strings.TrimSpace(long)
	bare := strings.TrimSpace(strings.TrimSuffix(strings.TrimSuffix(long, "min"), "minutes"))
	if n, err := strconv.Atoi(bare); err == nil {
		minutes = n
	} else {
		m := lasted.FindStringSubmatch(long)
		if m == nil || m[1] == "" {
			return 0, 0, fault
		}
		h, err := strconv.ParseFloat(strings.ReplaceAll(m[1], ",", "."), 64)
		rest := 0
		if err == nil && m[2] != "" {
			rest, err = strconv.Atoi(m[2])
		}
		if err != nil || rest > 59 {
			return 0, 0, fault
		}
		minutes = int(math.Round(h*60)) + rest
	}
	if minutes < 1 || minutes > mostMinutes {
		return 0, 0, fault
	}
	return minutes, people, nil
}

// Text writes what was taken as it is read.
func (t Taking) Text() string {
	words := fmt.Sprintf("%d min", t.Minutes)
	if h, m := t.Minutes/60, t.Minutes%60; h > 0 {
		words = fmt.Sprintf("%d h", h)
		if m > 0 {
			words += fmt.Sprintf(" %d min", m)
		}
	}
	if t.People > 1 {
		words += fmt.Sprintf(" by %d", t.People)
	}
	return words
}

// Learned is what the own times of a job make of the published ones.
type Learned struct {
	N     int     // steps that were written down
	Own   float64 // how many times as long they took as planned, in the middle of their ratios
	Times float64 // what is offered: nearer to 1 the fewer there are
}

// weighs is how many steps of one's own the published rates count for (our own choice: a bed's worth of steps of one's
// own outweighs them).
const weighs = 5

// farthest is how far one step's ratio counts: what took ten times as long was something else.
const farthest = 4

// Learn holds what was written down to what was planned, as people of a pace between the shorter and the longer times.
// Ratios are averaged by their logarithms, so that twice as long and half as long weigh the same; the published value
// counts as so many steps at 1.
func Learn(steps []work.Step, list []Taking, pace float64) (l Learned) {
	sum := 0.0
	for _, t := range list {
		for _, s := range steps {
			if s.ID != t.Step || t.Minutes <= 0 {
				continue
			}
			low, high := s.Minutes()
			ratio := float64(t.Minutes*max(1, t.People)) / (low + pace*(high-low))
			sum += math.Log(min(farthest, max(1.0/farthest, ratio)))
			l.N++
		}
	}
	l.Own, l.Times = 1, 1
	if l.N > 0 {
		l.Own, l.Times = math.Exp(sum/float64(l.N)), math.Exp(sum/float64(l.N+weighs))
	}
	return l
}

// PerMille is what is offered, as it is decided.
func (l Learned) PerMille() int { return int(math.Round(1000 * l.Times)) }

// Why says how it came about.
func (l Learned) Why() string {
	return fmt.Sprintf("%s written down took %.2f times as long as planned. The published rates, which say 1, count as"+
		" %d more that took just that: together %.2f.", measure.Count(l.N, "step"), l.Own, weighs, l.Times)
}
