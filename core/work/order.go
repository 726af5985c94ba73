package work

import (
	"slices"
)

// Phase is what kind of thing a step is. Where nothing else says what comes first, the trade's habit does: what is done
// once for all beds, then what is light on the bench, then into the ground, and each bed up before the next.
type Phase int

// The phases, in the order of habit.
const (
	Fetch  Phase = iota // home from the shop
	Saw                 // to length
	Tally               // laid out and counted
	Bore                // pilot holes
	Bench               // made up away from its place
	SetOut              // pegged out, dug
	Lead                // pipes, and what was dug
	Found               // a base, and cloth on the ground
	Stand               // set, driven, laid, closed
	Line                // inside the walls
	Ready               // soil in the drive
	Tip                 // soil
	Sink                // until it has settled
	Trim                // caps and what is fitted on
	Drip
	Brush
	Cover // mulch, paths
)

// inTurn are the phases in which one bed is finished before the next is begun.
func (p Phase) inTurn() bool { return p >= Found && p <= Line || p == Trim }

// group is the first of the phases that are done together for all beds, or bed by bed.
func (p Phase) group() Phase {
	if p >= Found && p <= Line {
		return Found
	}
	return p
}

// Waits reports whether a step waits for one that is not done.
func (s Step) Waits(done map[string]bool) bool {
	return slices.ContainsFunc(s.After, func(b Before) bool { return !done[b.ID] })
}

// ordered are steps so that each comes after what has to be before it: of those that may come next, the one that the
// trade's habit puts first.
// Where steps wait for one another in a circle, which nobody builds, it takes the first of them all the same.
func ordered(steps []Step, beds map[string]int) []Step {
	at := map[string]int{}
	for i, s := range steps {
		at[s.ID] = i
	}
	keys := make([][4]int, len(steps))
	for i, s := range steps {
		bed := 0
		if s.Phase.inTurn() {
			bed = 1 + beds[s.Bed]
		}
		keys[i] = [4]int{int(s.Phase.group()), bed, int(s.Phase), i}
	}
	done := make([]bool, len(steps))
	var out []Step
	for len(out) < len(steps) {
		next, free := -1, false
		for i, s := range steps {
			if done[i] {
				continue
			}
			may := !slices.ContainsFunc(s.After, func(b Before) bool { return !done[at[b.ID]] })
			if next < 0 || may && !free || may == free && slices.Compare(keys[i][:], keys[next][:]) < 0 {
				next, free = i, may
			}
		}
		done[next] = true
		out = append(out, steps[next])
	}
	return out
}
