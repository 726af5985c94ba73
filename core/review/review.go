// Package review is the experienced neighbour who looks at a plan before the
// saw comes out: what is wrong or doubtful, why, who says so, and the change
// that would mend it. It offers; it never imposes. What the gardener decides
// to live with stays listed as kept.
package review

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"sync"

	"chamfer/core/catalog"
	"chamfer/core/cutting"
	"chamfer/core/design"
	"chamfer/core/fixing"
	"chamfer/core/frame"
	"chamfer/core/ground"
	"chamfer/core/measure"
	"chamfer/core/planting"
	"chamfer/core/site"
	"chamfer/core/strength"
	"chamfer/core/terrain"
	"chamfer/core/water"
	"chamfer/core/why"
)

// Severity ranks findings.
type Severity string

// The severities: a stop cannot be built as it is, a warning will
// disappoint, a note is worth knowing.
const (
	Stop    Severity = "stop"
	Warning Severity = "warning"
	Note    Severity = "note"
)

// Rank orders severities, the worst highest.
func (s Severity) Rank() int { return map[Severity]int{Note: 1, Warning: 2, Stop: 3}[s] }

// Why is how a finding came about.
type Why = why.Why

// Remedy is one change that would mend a finding.
type Remedy struct {
	Label string
	Edits []design.Edit
}

// Finding is something to look at again.
type Finding struct {
	Code     string // stable, such as "side-bows"
	Severity Severity
	Bed      string
	Parts    []string // where it is, on the drawing
	Text     string
	Why      Why
	Remedies []Remedy
	Kept     bool
	KeptWhy  string // the gardener's note
}

// Input is what a review looks at: one bed of a plan.
type Input struct {
	Bed     design.Bed
	Frame   *frame.Frame
	Catalog *catalog.Catalog
	Habits  catalog.Habits
	Site    *site.Layout
	Unmet   []cutting.Unmet // pieces of the whole project that cannot be had
	Missing []string        // joints no screw in the shop is right for
	Fixed   map[string]fixing.Fixed
	Links   []strength.Link // of its loads, to the ground
	Needs   []fixing.Need   // of the whole project
	// Formations is the ground below beds where it was measured, Survey what was read of it.
	Formations []ground.Formation
	Survey     terrain.Survey
	Walks      []ground.Walk
	Even       bool // those are made even across
	Water      water.Plan
	First      bool             // what is of the whole project is told with this bed
	Patches    []planting.Patch // what grows in it
	Crops      planting.Table   // that can be grown
	South      bool             // of the equator
}

// Look reviews one bed. The worst findings come first.
func Look(in Input) []Finding {
	r := &reviewer{Input: in, p: in.Catalog.Precision(in.Habits)}
	r.board, _ = in.Catalog.Profile(in.Bed.Board)
	r.species, _ = in.Catalog.SpeciesOf(in.Bed.Species)
	for _, c := range inOrder() {
		c.look(r)
	}
	slices.SortStableFunc(r.found, func(a, b Finding) int { return b.Severity.Rank() - a.Severity.Rank() })
	return r.found
}

// checked is one thing that is looked at, and the codes of what it may find.
type checked struct {
	at    int // of findings as bad as one another the lower comes first
	look  func(*reviewer)
	codes []string
}

var checks []checked

// check has something looked at on every bed; each stands beside what it is of, so that a
// new finding is one new file.
func check(at int, look func(*reviewer), codes ...string) bool {
	checks = append(checks, checked{at, look, codes})
	return true
}

var inOrder = sync.OnceValue(func() []checked {
	slices.SortStableFunc(checks, func(a, b checked) int { return a.at - b.at })
	return checks
})

// Codes are those of all findings there are.
func Codes() []string {
	var list []string
	for _, c := range inOrder() {
		list = append(list, c.codes...)
	}
	return list
}

type reviewer struct {
	Input
	p       measure.Precision
	board   catalog.Profile
	species catalog.Species
	found   []Finding
}

func (r *reviewer) report(f Finding) {
	f.Bed = r.Bed.ID
	f.Kept, f.KeptWhy = slices.Contains(r.Bed.Kept, f.Code), r.Bed.KeptWhy[f.Code]
	r.found = append(r.found, f)
}

func (r *reviewer) edit(field, value string) design.Edit {
	return design.Edit{Bed: r.Bed.ID, Field: field, Value: value}
}

// to writes a remedy that sets a length; the value is exact.
func (r *reviewer) to(field string, l measure.Length) []design.Edit {
	return []design.Edit{r.edit(field, l.String())}
}

var _ = check(10, (*reviewer).cannotBeHad, "too-long", "no-screw")

func (r *reviewer) cannotBeHad() {
	for _, u := range r.Unmet {
		var parts []string
		var long frame.Part
		for _, p := range r.Frame.Parts {
			if p.Letter == u.Piece {
				parts, long = append(parts, p.ID), p
			}
		}
		if len(parts) == 0 {
			continue
		}
		f := Finding{Code: "too-long", Severity: Stop, Parts: parts,
			Text: fmt.Sprintf("No board in the shop yields piece %s: %s.", u.Piece, u.Reason),
			Why: Why{Given: []string{"piece " + u.Piece + " is " + r.p.Feet(long.Length)},
				Rule:   "A piece comes from one board, so it is no longer than the longest the shop has.",
				Source: "the catalogue's lengths"}}
		longest := measure.Length(0)
		for _, o := range r.Catalog.OffersOf(long.Profile, long.Species) {
			longest = max(longest, o.Length)
		}
		if p, err := r.Catalog.Profile(long.Profile); err == nil && !long.Eared {
			longest -= p.Ear
		}
		if over := long.Length - longest; longest > 0 && long.Grain == frame.X &&
			r.Bed.Length-over >= 300*measure.Millimetre {
			f.Remedies = append(
				f.Remedies,
				Remedy{"make the bed " + r.p.Feet(r.Bed.Length-over) + " long", r.to("length", r.Bed.Length-over)},
			)
			if pieced, ok := design.SystemFor(design.OfShortOnes); ok && pieced.Name != r.Bed.System &&
				r.Frame.Screwed() &&
				!r.Frame.OnFeet {
				label, edits := "join the sides end to end", []design.Edit{
					r.edit("system", pieced.Name),
					r.edit("pieced_sides", "all"),
				}
				if r.Bed.Cap != "none" { // a cap runs along in one length
					label, edits = label+", without a cap", append(edits, r.edit("cap", "none"))
				}
				f.Remedies = append(f.Remedies, Remedy{label, edits})
			}
			half := r.Bed.Length / 2
			n, more := 2, r.edit("copy-bed", "")
			if times := r.Bed.Times(); times > 1 {
				n, more = 2*times, r.edit("count", strconv.Itoa(2*times))
			}
			f.Remedies = append(f.Remedies, Remedy{
				"make " + supports(
					n,
					"bed",
				) + ", " + r.p.Feet(
					half,
				) + " long each", append(r.to("length", half), more)})
		}
		r.report(f)
	}
	if len(r.Missing) > 0 {
		f := Finding{Code: "no-screw", Severity: Stop,
			Text: fmt.Sprintf("The shop has no screw of the right length for %d of this bed's joints.", len(r.Missing)),
			Why: Why{
				Rule:   "A screw is at least 1 3/4 times the board it fastens and stays inside the piece behind it.",
				Source: "common practice",
			}}
		for _, extra := range []string{"bench", "trellis"} { // what can be done without
			if r.Bed.Has(extra) &&
				slices.ContainsFunc(r.Missing, func(id string) bool { return strings.Contains(id, "."+extra) }) {
				f.Remedies = append(f.Remedies, Remedy{"no " + extra, []design.Edit{r.edit(extra, design.NotThere)}})
			}
		}
		r.report(f)
	}
}

var _ = check(170, (*reviewer).tooWide, "reach")

func (r *reviewer) tooWide() {
	if r.Frame.Deepest > 0 {
		r.tooDeep()
		return
	}
	reach, source := r.reach(r.Bed.Access)
	if r.Bed.Width <= reach || len(r.Frame.Cavities) == 0 { // nothing grows in it

		return
	}
	field := "width"
	if _, ok := design.FieldOf(r.Bed, field); !ok { // as wide as it is long
		field = "length"
	}
	f := Finding{Code: "reach", Severity: Warning,
		Text: fmt.Sprintf(
			"At %s the far plants are out of arm's reach: %s is the most for a bed reached like this.",
			r.p.Feet(r.Bed.Width),
			r.p.Feet(reach),
		),
		Why: Why{Given: []string{"planting width " + r.p.Feet(r.Bed.Width)},
			Rule:   "An arm reaches half a bed that is tended from both sides, and all of one that is tended from one.",
			Result: "The most is " + r.p.Feet(reach) + ".", Source: source},
		Remedies: []Remedy{{"make it " + r.p.Feet(reach) + " wide", r.to(field, reach)}}}
	both := r.Bed.Access.ToBoth()
	if across, _ := r.reach(both); r.Bed.Access.FromOne() && !r.Frame.Backed && r.Bed.Width <= across {
		f.Remedies = append(
			f.Remedies,
			Remedy{"leave a path on both sides", []design.Edit{r.edit("access", string(both))}},
		)
	}
	r.report(f)
}

// reach is how wide a bed may be that is reached so, with where that is from: the reach that
// was measured for this bed, a grown person's of the workshop, or what is usual.
func (r *reviewer) reach(by design.Access) (measure.Length, string) {
	return Reach(r.Bed, by, r.Habits, r.Catalog)
}

// Reach is how wide a bed may be that is reached in a way, with where that is from.
func Reach(b design.Bed, by design.Access, h catalog.Habits, cat *catalog.Catalog) (measure.Length, string) {
	p := cat.Precision(h)
	switch own := h.Reach; {
	case b.Reach > 0:
		return b.Reach * by.Sides(), "your reach of " + p.Feet(b.Reach) + ", measured for this bed"
	case own > 0 && by.Who() == "":
		return own * by.Sides(), "your reach of " + p.Feet(own) + ", measured for this workshop"
	}
	return cat.Reach[string(by)], cat.ReachSource
}

// tooDeep tells of soil that no arm reaches from where one can stand.
func (r *reviewer) tooDeep() {
	deep := r.Frame.Deepest
	reach, source := r.reach(r.Bed.Access.ToOne())
	if deep <= reach {
		return
	}
	size := measure.Length(0)
	if f, ok := design.FieldOf(r.Bed, r.Frame.DeepestBy); ok {
		size = f.LengthOf(r.Bed) - measure.Length(math.Ceil(float64(deep-reach)*r.Frame.DeepestPer))
		size = size / r.p.Step * r.p.Step
	}
	r.report(Finding{Code: "reach", Severity: Warning,
		Text: fmt.Sprintf(
			"The furthest plants are %s from where you can stand: %s is the most an arm reaches.",
			r.p.Feet(deep),
			r.p.Feet(reach),
		),
		Why: Why{
			Given:  []string{"from the rim, or the way in, to the middle of the soil " + r.p.Feet(deep)},
			Rule:   "An arm reaches so far from one side.",
			Result: "The most is " + r.p.Feet(reach) + ".",
			Source: source,
		},
		Remedies: []Remedy{{"make it " + r.p.Feet(size), r.to(r.Frame.DeepestBy, size)}}})
}

var _ = check(200, (*reviewer).tooThin, "thin")

func (r *reviewer) tooThin() {
	if len(r.Frame.Walls) == 0 {
		return // none of boards
	}
	if r.board.Thickness >= r.Catalog.Thinnest {
		return
	}
	f := Finding{Code: "thin", Severity: Warning, Parts: r.boards(),
		Text: fmt.Sprintf(
			"Boards %s thick soon cup, split at the screws and rot through.",
			r.p.Short(r.board.Thickness),
		),
		Why: Why{Given: []string{"thickness " + r.p.Short(r.board.Thickness)},
			Rule:   "Rot works inwards from the soil side; twice the wood lasts about twice as long.",
			Result: "The least is " + r.p.Short(r.Catalog.Thinnest) + ".", Source: r.Catalog.ThinnestSource}}
	for _, p := range r.thicker() {
		f.Remedies = append(f.Remedies, Remedy{"boards of " + p.Name, []design.Edit{r.edit("board", p.ID)}})
		if len(f.Remedies) == 2 {
			break
		}
	}
	r.report(f)
}

// shortLife is the most years of a timber that is called short-lived here:
// common practice, softwood pine 3 to 5 years in soil contact.
const shortLife = 5

var _ = check(210, (*reviewer).shortLived, "short-lived")

func (r *reviewer) shortLived() {
	if len(r.Frame.Walls) == 0 {
		return // none of boards
	}
	if r.species.LifeMax > shortLife {
		return
	}
	f := Finding{Code: "short-lived", Severity: Warning, Parts: r.boards(),
		Text: fmt.Sprintf("%s lasts %d to %d years in wet soil.", r.species.Name, r.species.LifeMin, r.species.LifeMax),
		Why: Why{Given: []string{r.species.Name},
			Rule: "Untreated wood that is not naturally durable rots where soil keeps it wet. Cheap boards" +
				" replaced sooner are a choice too.",
			Result: fmt.Sprintf("%d to %d years.", r.species.LifeMin, r.species.LifeMax), Source: r.species.Source}}
	for _, s := range r.Catalog.Species {
		if s.LifeMin > shortLife-1 && r.Catalog.Sold(r.Bed.Board, s.ID) {
			f.Remedies = append(
				f.Remedies,
				Remedy{
					fmt.Sprintf("%s, %d–%d years", s.Name, s.LifeMin, s.LifeMax),
					[]design.Edit{r.edit("species", s.ID)},
				},
			)
		}
	}
	r.report(f)
}

func (r *reviewer) boards() []string {
	var ids []string
	for _, w := range r.Frame.Walls {
		ids = append(ids, w.Boards...)
	}
	return ids
}

var _ = check(270, (*reviewer).carried, "carry")

func (r *reviewer) carried() {
	var long []string
	most := measure.Length(0)
	for _, p := range r.Frame.Parts {
		if p.CutLength() > r.Habits.Carry {
			long = append(long, p.ID)
			most = max(most, p.CutLength())
		}
	}
	if len(long) == 0 || slices.ContainsFunc(r.Unmet, func(u cutting.Unmet) bool {
		return slices.ContainsFunc(
			r.Frame.Parts,
			func(p frame.Part) bool { return p.Letter == u.Piece && p.CutLength() > r.Habits.Carry },
		)
	}) {
		return // what no shop has cannot be delivered either
	}
	r.report(Finding{Code: "carry", Severity: Note, Parts: long,
		Text: fmt.Sprintf(
			"The longest piece is %s, and your car takes %s: these boards have to be delivered.",
			r.p.Feet(most),
			r.p.Feet(r.Habits.Carry),
		),
		Why: Why{Given: []string{"longest piece " + r.p.Feet(most), "the car takes " + r.p.Feet(r.Habits.Carry)},
			Rule:   "Longer boards than the car takes are planned only for pieces that need them.",
			Source: "your habits"}})
}

var _ = check(220, (*reviewer).idleRim, "idle-rim")

// idleRim tells of a wall that stands well above the soil because whole
// boards are stacked.
func (r *reviewer) idleRim() {
	if len(r.Frame.Walls) == 0 {
		return // none of boards
	}
	if len(r.Frame.Cavities) == 0 {
		return
	}
	soil := r.Frame.Cavities[0]
	idle := soil.Rim - soil.Top - r.Bed.Freeboard
	if idle < r.board.Width/3 {
		return
	}
	full := r.Bed.Soil + idle
	tall := soil.Rim // of the walls, from their lower edge
	if low, ok := r.Frame.Part(r.Frame.Walls[0].Boards[0]); ok {
		lo, _ := low.Body.Bounds()
		tall -= lo.Z
	}
	walls := tall - idle // what has to be reached
	f := Finding{Code: "idle-rim", Severity: Note,
		Text: fmt.Sprintf(
			"Whole boards make the walls %s, so the rim stands %s above the soil.",
			r.p.Feet(tall),
			r.p.Feet(idle+r.Bed.Freeboard),
		),
		Why: Why{
			Given: []string{
				measure.Count(
					r.Frame.Courses(),
					"course",
				) + " of boards that are really " + r.p.Short(
					r.board.Width,
				) + " wide",
			},
			Steps: []why.Step{why.Given("walls", why.Long(tall)), why.Given("what has to be reached", why.Long(walls)),
				{Name: "more than needed", Of: why.Less(why.Long(tall), why.Long(walls)), As: why.Length}},
			Rule:   "As many whole boards are stacked as reach the soil and what is kept below the rim.",
			Source: "actual board widths: " + r.board.Source,
		},
		Remedies: []Remedy{{"fill it: " + r.p.Feet(full) + " of soil", r.to("soil", full)}}}
	if less := full - r.board.Width; less >= r.Bed.Soil*3/4 {
		f.Remedies = append(f.Remedies, Remedy{"one board lower: " + r.p.Feet(less) + " of soil", r.to("soil", less)})
	}
	for _, p := range r.Catalog.Profiles {
		n := (walls + p.Width - 1) / p.Width
		if p.Kind == catalog.Board && p.Thickness == r.board.Thickness && p.ID != r.board.ID &&
			r.Catalog.Sold(p.ID, r.Bed.Species) &&
			n*p.Width-walls < p.Width/3 &&
			n <= 3 {
			f.Remedies = append(
				f.Remedies,
				Remedy{fmt.Sprintf("%d × %s instead", n, p.Name), []design.Edit{r.edit("board", p.ID)}},
			)
			break
		}
	}
	r.report(f)
}
