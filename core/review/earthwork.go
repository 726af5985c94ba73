package review

import (
	"fmt"
	"slices"

	"chamfer/core/design"
	"chamfer/core/ground"
	"chamfer/core/measure"
	"chamfer/core/terrain"
)

var (
	_ = check(160, (*reviewer).onGround, "stands-on-fill", "falls-along", "bank")
	_ = check(170, (*reviewer).readings, "levels-out", "levels-open", "levels-guessed")
)

// Rules of levelling ground (common practice).
const (
	// filledLow is how high a fill may be under walls: 4 in, 100 mm, one layer that a tamper reaches.
	filledLow = 100 * measure.Millimetre
	// waterRuns is the fall, thousandths, past which water and soil run to a bed's low end: 1 in 50.
	waterRuns = 20
	// bankHigh is how deep an edge is cut before it wants a slope or a wall: 20 in, 500 mm.
	bankHigh = 500 * measure.Millimetre
	// guessedMost is how much of a bed may lie beyond the pegs before that is told, in hundredths.
	guessedMost = 25
)

// onGround looks at how the ground below a bed is made.
func (r *reviewer) onGround() {
	told := map[string]bool{}
	say := func(f Finding) {
		if !told[f.Code] {
			told[f.Code] = true
			r.report(f)
		}
	}
	for _, x := range r.Formations {
		if x.Bed != r.Bed.ID {
			continue
		}
		set := func(label, way string) Remedy {
			return Remedy{label, []design.Edit{r.edit(fmt.Sprintf("level:%d", x.N), way)}}
		}
		lowest := set("stand it at its lowest corner", "lowest")
		if high := measure.Metres(x.Moved.Highest); high > filledLow {
			say(Finding{Code: "stands-on-fill", Severity: Warning,
				Text: fmt.Sprintf("Its walls stand on up to %s of filled ground, %s.", r.p.Short(high), x.Where(x.Low)),
				Why: Why{Given: []string{"ground that falls " + r.p.Short(x.Drop()) + " below it"},
					Rule:   "Filled ground settles for years, and the wall on it with it; what is dug stays where it is.",
					Result: "Up to " + r.p.Short(filledLow) + " can be trodden down.", Source: "common practice"},
				Remedies: []Remedy{lowest}})
		}
		if share, toward := x.Ground.Fall(); x.Way == "follow" && share*1000 > waterRuns {
			say(Finding{Code: "falls-along", Severity: Warning,
				Text: fmt.Sprintf("It falls 1 in %.0f towards %s: water runs off its high end and stands at its low one.",
					1/share, ground.Direction(toward)),
				Why: Why{Given: []string{"the plane nearest the ground below it"},
					Rule:   "Soil in a bed lies level within 1 in 50, whatever its walls do; past that it washes.",
					Source: "common practice"},
				Remedies: []Remedy{lowest, set("stand it where cut equals fill", "balanced")}})
		}
		if deep := measure.Metres(x.Moved.Deepest); deep > bankHigh {
			f := Finding{Code: "bank", Severity: Warning,
				Text: fmt.Sprintf("The ground is cut %s deep %s: its edge slides unless it is sloped or held.",
					r.p.Short(deep), x.Where(x.High)),
				Why: Why{Given: []string{"ground that falls " + r.p.Short(x.Drop()) + " below it"},
					Rule: "A wall that holds ground up is another thing than one that holds soil in a box: over the" +
						" local height it is licensed engineers' work.",
					Result: "Up to " + r.p.Short(bankHigh) + " the edge is cut back to a slope.",
					Source: "common practice; local codes come first"}}
			if x.Balanced > x.To.Z && x.Way != "balanced" && x.High.Z-x.Balanced < bankHigh.Metres() {
				f.Remedies = append(f.Remedies, set("stand it where cut equals fill", "balanced"))
			}
			say(f)
		}
		if x.Moved.Area > 0 && x.Moved.Guessed*100 > guessedMost*x.Moved.Area {
			say(Finding{Code: "levels-guessed", Severity: Note,
				Text: fmt.Sprintf("%.0f %% of its ground lies beyond the pegs, and is guessed from their fall.",
					100*x.Moved.Guessed/x.Moved.Area),
				Why: Why{Rule: "Between pegs the ground is what they say; beyond them it may do anything. Set pegs at the" +
					" bed's own corners.", Source: "geometry"}})
		}
	}
}

// readings looks at how the levels were booked, once for the project.
func (r *reviewer) readings() {
	if !r.First {
		return
	}
	name := func(run terrain.Run) string {
		return fmt.Sprintf("from %s to %s", r.Survey.Lines[run.First].Peg, r.Survey.Lines[run.Last].Peg)
	}
	for _, run := range r.Survey.Runs {
		if run.Closed && !run.Shared {
			r.report(Finding{Code: "levels-out", Severity: Warning,
				Text: fmt.Sprintf("The levels %s are out by %s, and %s is allowed: read them again.", name(run),
					r.p.Short(max(run.Misclosure, -run.Misclosure)), r.p.Short(run.Allowed)),
				Why: Why{Given: []string{measure.Count(run.SetUps, "set-up") + " of the level"},
					Rule: "5 mm by the square root of the set-ups; what is more than that is a misreading, and is not" +
						" shared out.",
					Result: "Heights are as they were read.", Source: "survey textbooks, as common practice"}})
			return
		}
	}
	if i := slices.IndexFunc(r.Survey.Runs, func(x terrain.Run) bool { return !x.Closed }); i >= 0 {
		r.report(Finding{Code: "levels-open", Severity: Note,
			Text: fmt.Sprintf("The levels %s end at a peg whose height was not known: a misreading would not be found.",
				name(r.Survey.Runs[i])),
			Why: Why{Rule: "Read the first peg once more at the end, as a fore sight: it has to come out as it was.",
				Source: "common practice"}})
	}
}
