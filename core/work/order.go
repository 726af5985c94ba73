package work

import (
	"slices"
	"strings"
)

// What has to come before what, where builders and readers write their steps one after the other: what is inside before
// what closes it, what carries before what it carries. All else stays as it was written.
var before = []struct {
	first, then string // the end of a step's ID, or its beginning where it ends with a dot; behind its bed's
	within      bool   // of one bed
}{
	{".liner*.line", ".fix-cap.", true},       // stapled to the walls' inner faces, its edge under the cap
	{".basket.line", ".lay.layers", true},     // round the basket's pegs, before soil is filled against it
	{".fit-out.basket", ".basket.line", true}, // the pegs it goes round
	{"settle", ".fit-out.grid", false},        // on soil that sinks no more
	{".lay.drains", ".cloth*.line", true},     // between the stone and the soil
}

// matches reports whether a step's ID, without its bed's, is what a rule says.
func matches(id, rule string) bool {
	if head, tail, star := strings.Cut(rule, "*"); star {
		i := strings.Index(id, head)
		return i >= 0 && strings.HasSuffix(id[i:], tail)
	}
	if strings.HasSuffix(rule, ".") {
		return strings.Contains(id, rule)
	}
	return id == rule || strings.HasSuffix(id, rule)
}

// ordered are steps so that each comes after what has to be before it: of those that may come next, the one that was
// written first.
func ordered(steps []Step) []Step {
	waits := make([][]int, len(steps))
	for i, then := range steps {
		for j, first := range steps {
			for _, r := range before {
				if i != j && matches(first.ID, r.first) && matches(then.ID, r.then) && (!r.within || first.Bed == then.Bed) {
					waits[i] = append(waits[i], j)
				}
			}
		}
	}
	var out []Step
	done := make([]bool, len(steps))
	for len(out) < len(steps) {
		next := slices.Index(done, false) // where two wait for one another: as they were written
		for i := range steps {
			if !done[i] && !slices.ContainsFunc(waits[i], func(j int) bool { return !done[j] }) {
				next = i
				break
			}
		}
		done[next] = true
		out = append(out, steps[next])
	}
	return out
}
