package review

import (
	"fmt"
	"math"
	"slices"
	"strconv"

	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

// route is one path of a load, and how its worst link is told.
type route struct {
	path strength.Path
	code string
	what string // brings it, for reading
	skip func(strength.Link) bool
}

// ways is a test for links of some ways.
func ways(list ...strength.Way) func(strength.Link) bool {
	return func(l strength.Link) bool { return slices.Contains(list, l.Way) }
}

// routes are the paths; what is told elsewhere is left out: what bows, posts in the ground,
// walls that stand by their weight, casters, feet.
var routes = []route{
	{strength.OnFloor, "floor-path", "the wet soil on the floor", ways(strength.OnGround, strength.Rolling)},
	{
		strength.OnSide,
		"pulls-side",
		"the soil's push",
		ways(
			strength.Bending,
			strength.InGround,
			strength.ByWeight,
			strength.Tipping,
			strength.OnGround,
			strength.Rooted,
		),
	},
	{strength.OnEnd, "pulls-end", "the soil's push", ways(strength.Bending, strength.InGround)},
	{strength.Seated, "sat-on", "somebody on it, with the wet soil,", ways(strength.OnGround, strength.Rolling)},
	{strength.Wind, "in-wind", "the wind", ways()},
}

// severity is the one rule from a link's ratio to how it is told: nothing up to what may be
// counted on; worth knowing up to what the weakest of twenty is expected to break at; more
// than that disappoints.
func severity(l strength.Link) Severity {
	switch ratio := l.Ratio(); {
	case ratio <= 1:
		return ""
	case ratio <= l.Much():
		return Note
	}
	return Warning
}

// excess orders links by how far they are over.
func excess(l strength.Link) float64 { return l.Ratio() / l.Much() }

// followed tells the worst link of each path once.
func (r *reviewer) followed() {
	told := map[string]Severity{} // joints and members that were told, by path and by what sags
	for _, f := range r.found {
		if f.Code == "floor-sags" || f.Code == "beams-sag" || f.Code == "ledgers-sag" {
			for _, id := range f.Parts {
				told[id+id+string(strength.Bending)] = Warning
			}
		}
	}
	for _, x := range routes {
		var worst strength.Link
		for _, l := range r.Links {
			if s := severity(l); l.Path != x.path || x.skip(l) || l.Gives || s == "" ||
				told[l.From+l.To+string(l.Way)].Rank() >= s.Rank() {
				continue
			}
			if worst.Path == "" || excess(l) > excess(worst) {
				worst = l
			}
		}
		if worst.Path == "" {
			continue
		}
		for _, l := range r.Links {
			if l.Path == x.path {
				key := l.From + l.To + string(l.Way)
				if s := severity(worst); s.Rank() > told[key].Rank() && severity(l) != "" {
					told[key] = s
				}
			}
		}
		r.follow(x, worst)
	}
}

// follow reports a path by its worst link, with the rest of the path as its reason.
func (r *reviewer) follow(x route, l strength.Link) {
	rule := strength.Rules[l.Way]
	f := Finding{Code: x.code, Severity: severity(l), Parts: r.over(x, l), Text: r.linkText(x, l),
		Why: Why{Given: r.pathGiven(x), Rule: rule.Words,
			Result: fmt.Sprintf(
				"%s against %s: %.0f %% of what may be counted on; about %.0f %% is expected to break it, and of twenty the weakest at %.0f %%.",
				r.force(l.Load),
				r.force(l.Holds),
				100*l.Ratio(),
				100*l.Breaks/l.Holds,
				100*l.Much(),
			),
			Source: rule.Source + "; " + sourceOf[x.path]}}
	if f.Severity == Note {
		f.Text += " That is more than a code counts on, though short of what breaks it."
	}
	f.Remedies = r.lighten(x, l)
	r.report(f)
}

// sourceOf is who says how large a path's load is.
var sourceOf = map[strength.Path]string{
	strength.OnFloor: "wet soil of the heaviest that is sold",
	strength.OnSide:  "push: Rankine at 30°, wet soil",
	strength.OnEnd:   "push: Rankine at 30°, wet soil",
	strength.Seated:  "a person: 300 lb (1.33 kN) on a small area, IRC Table R301.5, stair treads (from memory)",
	strength.Wind:    "wind: 0.6 of 16 lb/ft² on half of what is in leaf, ASCE 7-16 29.7 (from memory); local codes come first",
}

// over lists the pieces of all links of a path that are over, those of the worst first.
func (r *reviewer) over(x route, worst strength.Link) []string {
	var ids []string
	add := func(id string) {
		if _, ok := r.Frame.Part(id); ok && !slices.Contains(ids, id) {
			ids = append(ids, id)
		}
	}
	add(worst.From)
	add(worst.To)
	for _, l := range r.Links {
		if l.Path == x.path && !x.skip(l) && l.Ratio() > 1 {
			add(l.From)
			add(l.To)
		}
	}
	return ids
}

// role is what a piece is, for reading inside a sentence.
func (r *reviewer) role(id string) string {
	if p, ok := r.Frame.Part(id); ok {
		return "the " + p.Role
	}
	return id
}

// linkText says what comes to a link and what it is good for.
func (r *reviewer) linkText(x route, l strength.Link) string {
	good := fmt.Sprintf("good for %s for years, and about %s is expected to break", r.force(l.Holds), r.force(l.Breaks))
	if l.Path == strength.Wind || l.Path == strength.Seated {
		good = fmt.Sprintf("good for %s, and about %s is expected to break", r.force(l.Holds), r.force(l.Breaks))
	}
	grain := ""
	if l.EndGrain {
		grain = " in end grain"
	}
	switch l.Way {
	case strength.Across, strength.Pulled:
		screws := fmt.Sprintf(
			"The %d screws%s that hold %s to %s are %s them;",
			l.Screws,
			grain,
			r.role(l.From),
			r.role(l.To),
			good,
		)
		if l.Screws == 1 {
			screws = fmt.Sprintf("The screw%s that holds %s to %s is %s it;", grain, r.role(l.From), r.role(l.To), good)
		}
		return fmt.Sprintf("%s %s brings %s.", screws, x.what, r.force(l.Load))
	case strength.Tipping:
		what := "Wind against its side"
		if l.Path == strength.Seated {
			what = "Somebody on its rim"
		}
		return fmt.Sprintf(
			"%s pushes with %s, its soil dry; from %s on it may tip, and at %s it does.",
			what,
			r.force(l.Load),
			r.force(l.Holds),
			r.force(l.Breaks),
		)
	case strength.Strapped:
		return fmt.Sprintf(
			"The wind pulls at each %s of %s with %s; it is %s it.",
			l.To,
			x.thing(r, l),
			r.force(l.Load),
			good,
		)
	case strength.Crushing:
		return fmt.Sprintf(
			"%s presses on %s with %s; the wood there is good for %s, and sinks in by the thickness of a coin at about %s.",
			upper(r.role(l.From)),
			r.role(l.To),
			r.force(l.Load),
			r.force(l.Holds),
			r.force(l.Breaks),
		)
	case strength.Bending, strength.Shearing, strength.Stretched:
		how := map[strength.Way]string{strength.Bending: "as a beam", strength.Shearing: "as a beam, and wants to split along the grain", strength.Stretched: "along its grain"}[l.Way]
		return fmt.Sprintf("%s carries %s %s; it is %s it.", upper(r.role(l.From)), r.force(l.Load), how, good)
	}
	return fmt.Sprintf("At %s %s brings %s; it is %s it.", r.role(l.From), x.what, r.force(l.Load), good)
}

// thing is what a strap or tie holds.
func (route) thing(r *reviewer, l strength.Link) string {
	for _, x := range r.Frame.Fittings {
		if x.ID == l.From {
			return "the " + map[string]string{"hoop": "hoops", "panel": "arch"}[x.Kind]
		}
	}
	return l.From
}

func upper(s string) string {
	if s != "" && s[0] >= 'a' && s[0] <= 'z' {
		return string(s[0]-'a'+'A') + s[1:]
	}
	return s
}

// pathGiven is the path from what brings the load to the ground, each kind of link at its
// worst, the worst first.
func (r *reviewer) pathGiven(x route) []string {
	of := func(id string) string {
		if p, ok := r.Frame.Part(id); ok {
			return p.Kind
		}
		return id
	}
	var list []string
	for _, l := range strength.Gathered(r.Links, x.path, of) {
		what := fmt.Sprintf("%s to %s, %s", of(l.From), of(l.To), l.Way)
		if l.From == l.To {
			what = fmt.Sprintf("%s, %s", of(l.From), l.Way)
		}
		list = append(
			list,
			fmt.Sprintf("%s: %s of %s, %.0f %%", what, r.force(l.Load), r.force(l.Holds), 100*l.Ratio()),
		)
		if len(list) == mostTold {
			break
		}
	}
	return list
}

// mostTold is how many links of a path a reason names.
const mostTold = 8

// sinks tells of feet that ground which is soft does not bear.
func (r *reviewer) sinks() {
	var worst strength.Link
	var feet []string
	for _, l := range r.Links {
		p, ok := r.Frame.Part(l.From)
		if l.Path != strength.OnFloor || l.Way != strength.OnGround || !ok || p.Grain != frame.Z || l.Ratio() <= 1 {
			continue
		}
		feet = append(feet, l.From)
		if l.Ratio() > worst.Ratio() {
			worst = l
		}
	}
	if len(feet) == 0 {
		return
	}
	rule := strength.Rules[strength.OnGround]
	f := Finding{Code: "feet-sink", Severity: Note, Parts: feet,
		Text: fmt.Sprintf(
			"Under wet soil %s presses on the ground with %s, and ground that is not soft bears %s there: it sinks until it finds hold. A paving slab under each foot keeps it level.",
			r.role(worst.From),
			r.force(worst.Load),
			r.force(worst.Holds),
		),
		Why: Why{
			Given: []string{measure.Count(len(feet), "foot"), "as much on one as " + r.force(worst.Load)},
			Rule:  rule.Words,
			Result: fmt.Sprintf(
				"%s against %s: %.0f %%. Planters stand so on lawns, and settle: common practice, and the severity goes by it.",
				r.force(worst.Load),
				r.force(worst.Holds),
				100*worst.Ratio(),
			),
			Source: rule.Source,
		}}
	if r.Frame.OnFeet {
		f.Remedies = []Remedy{{"stand it on paving", []design.Edit{r.edit("on", "slab")}}}
	}
	r.report(f)
}

// slides tells of blocks whose slots boards lean on, where their weight does not hold them.
// Pinned to the ground two or three high they stand for years.
func (r *reviewer) slides() {
	var worst strength.Link
	var parts []string
	for _, l := range r.Links {
		if _, isPart := r.Frame.Part(l.From); l.Way != strength.ByWeight || l.Path != strength.OnSide || isPart ||
			len(r.Frame.Stacks) > 0 ||
			l.Ratio() <= 1 {
			continue
		}
		parts = append(parts, l.From)
		if l.Ratio() > worst.Ratio() {
			worst = l
		}
	}
	if len(parts) == 0 {
		return
	}
	rule := strength.Rules[strength.ByWeight]
	f := Finding{Code: "blocks-slide", Severity: severity(worst), Parts: parts,
		Text: fmt.Sprintf(
			"Soil pushes at a stack of blocks with %s through the boards in its slots, and its weight holds %s against that.",
			r.force(worst.Load),
			r.force(worst.Breaks),
		),
		Why: Why{
			Given: []string{r.p.Feet(r.Bed.Soil) + " of soil", measure.Count(len(parts), "stack")},
			Rule:  rule.Words + " A pin keeps the blocks over one another and holds a little more; none of that is counted on.",
			Result: fmt.Sprintf(
				"%.0f %% of what may be counted on.",
				100*worst.Ratio(),
			),
			Source: rule.Source + "; stacks of two or three that are pinned to the ground stand for years: common practice, and the severity goes by it",
		}}
	if slices.ContainsFunc(r.Frame.Fittings, func(x frame.Fitting) bool { return x.Kind == "pin" }) &&
		r.Frame.Courses() <= 3 {
		f.Severity = Note
		f.Text += " Two or three high and pinned to the ground they have stood for years all the same."
	} else if p, ok := design.FieldOf(r.Bed, "pinned"); ok && p.Text(r.Bed, r.p) != "yes" {
		f.Remedies = append(f.Remedies, Remedy{"pins down the middle of every stack", []design.Edit{r.edit("pinned", "yes")}})
	}
	if less := r.lessSoil(math.Sqrt(worst.Ratio())); less > 0 {
		f.Remedies = append(f.Remedies, Remedy{r.p.Feet(less) + " of soil", r.to("soil", less)})
	}
	r.report(f)
}

// lighten is what carpenters do about a link that is over, on its path.
func (r *reviewer) lighten(x route, l strength.Link) []Remedy {
	switch x.path {
	case strength.OnFloor:
		return r.carryBetter(l)
	case strength.Seated:
		if p, ok := r.Frame.Part(l.From); ok && p.Kind == "cap" {
			return r.capBetter()
		}
		return r.carryBetter(l)
	case strength.Wind:
		return r.lower()
	}
	return r.holdBetter(x, l)
}

// measure is one change to how a floor is hung.
type measureOf struct {
	label, field, value string
}

// carryBetter is how a floor's load is hung better: each measure that the bed has and does
// not take yet, then all of them, with other beams, with legs between, with thicker boards,
// with less soil.
func (r *reviewer) carryBetter(l strength.Link) []Remedy {
	var list []Remedy
	var all Remedy
	for _, m := range []measureOf{
		{"more screws at the legs", "leg_screws", "many"}, {"blocks under the ledgers' ends", "ledger_ends", "blocks"},
		{"screws along the ledgers every 3 in (75 mm)", "ledger_screws", "close"}, {"brackets at the beams' ends", "beam_ends", "brackets"},
	} {
		f, ok := design.FieldOf(r.Bed, m.field)
		if !ok || f.Text(r.Bed, r.p) == m.value || m.field == "beam_ends" && !r.hasBeams() ||
			m.field == "ledger_ends" && r.Bed.Options["legs"] == "outside" {
			continue
		}
		e := r.edit(m.field, m.value)
		list = append(list, Remedy{m.label, []design.Edit{e}})
		if all.Label != "" {
			all.Label += ", "
		}
		all.Label, all.Edits = all.Label+m.label, append(all.Edits, e)
	}
	with := func(label string, edits ...design.Edit) Remedy {
		if all.Label == "" {
			return Remedy{label, edits}
		}
		return Remedy{all.Label + ", " + label, append(slices.Clone(all.Edits), edits...)}
	}
	if len(all.Edits) > 1 {
		list = append(list, all)
	}
	if f, ok := design.FieldOf(r.Bed, "beams_run"); ok && f.Text(r.Bed, r.p) != "across" &&
		r.Bed.Options["floor"] == "level" {
		list = append(
			list,
			with("beams from side to side", r.edit("beams_run", "across"), r.edit("beams", design.Auto)),
		)
	}
	if _, ok := design.FieldOf(r.Bed, "mid_legs"); ok && (len(all.Edits) == 0 || severity(l) == Warning) {
		now, _ := strconv.Atoi(r.Bed.Options["mid_legs"])
		if n := now + 1; n <= 3 {
			var edits []design.Edit
			for _, e := range all.Edits {
				if e.Field != "ledger_ends" {
					edits = append(edits, e)
				}
			}
			edits = append(
				edits,
				r.edit("ledger_ends", "walls"),
				r.edit("legs", "outside"),
				r.edit("mid_legs", strconv.Itoa(n)),
			)
			list = append(list, Remedy{fmt.Sprintf("legs outside the walls, %d between on each long side", n), edits})
		}
	}
	for _, f := range r.Frame.Floors {
		if f.Field != "" {
			word := "beam"
			if f.Field == "spanners" {
				word = "spanner"
			}
			for _, n := range []int{len(f.Beams) + 1, 0} {
				if n <= f.Most && n != len(f.Beams) && (n > 0 || word == "beam") {
					list = append(list, with(supports(n, word)+" under the floor", r.edit(f.Field, strconv.Itoa(n))))
				}
			}
		}
		if f.LedgerField != "" {
			list = append(
				list,
				Remedy{
					supports(f.LedgerSpans, "mid post") + " on each long side",
					[]design.Edit{r.edit(f.LedgerField, strconv.Itoa(f.LedgerSpans))},
				},
			)
		}
	}
	if p, ok := r.Frame.Part(l.From); ok && p.Course > 0 && (l.Way == strength.Bending || l.Way == strength.Shearing) {
		for _, p := range r.thicker() {
			list = append(list, with("boards of "+p.Name, r.edit("board", p.ID)))
			break
		}
	}
	step := r.usualHole() / 12
	for _, over := range []float64{l.Ratio(), excess(l)} {
		if less := floorTo(r.Bed.Soil, over, step); less >= 4*step && l.Path == strength.OnFloor {
			list = append(list, Remedy{r.p.Feet(less) + " of soil", r.to("soil", less)})
			if all.Label != "" {
				break
			}
		}
	}
	return list
}

func (r *reviewer) hasBeams() bool {
	return slices.ContainsFunc(r.Frame.Parts, func(p frame.Part) bool { return p.Kind == "beam" })
}

// capBetter is what is done about a cap that pries its screws out.
func (r *reviewer) capBetter() []Remedy {
	board, err := r.Catalog.Profile(r.Bed.CapProfile)
	if err != nil || r.Bed.Cap == design.NoCap {
		return nil
	}
	half := (board.Width - r.board.Thickness) / 2
	var list []Remedy
	for _, p := range r.thicker() {
		list = append(list, Remedy{"boards of " + p.Name, []design.Edit{r.edit("board", p.ID)}})
		break
	}
	return append(list, Remedy{"the cap centred on the walls", append(r.to("cap_in", half), r.to("cap_out", half)...)},
		Remedy{"no cap", []design.Edit{r.edit("cap", design.NoCap)}})
}

// lower takes what stands tall down, or away.
func (r *reviewer) lower() []Remedy {
	var list []Remedy
	step := r.usualHole() / 12
	for _, field := range []string{"trellis_height", "hoop_rise"} {
		f, ok := design.FieldOf(r.Bed, field)
		if !ok {
			continue
		}
		for _, eighths := range []int64{7, 6, 5} {
			high := floorTo(f.LengthOf(r.Bed)*8, 64/float64(eighths), step)
			list = append(list, Remedy{"only " + r.p.Feet(high) + " high", r.to(field, high)})
		}
	}
	for _, field := range []string{"trellis", "hoops", "arch"} {
		if _, ok := design.FieldOf(r.Bed, field); ok && r.Bed.Has(field) {
			list = append(list, Remedy{"no " + field, []design.Edit{r.edit(field, design.NotThere)}})
		}
	}
	return list
}

// holdBetter is what is done about a wall whose boards are pulled off.
func (r *reviewer) holdBetter(x route, l strength.Link) []Remedy {
	var list []Remedy
	for _, w := range r.Frame.Walls {
		if slices.Contains(w.Boards, l.From) && w.Field != "" {
			list = append(list, r.moreSupports(w, min(6, len(w.Supports)-2+1)))
		}
	}
	if f, ok := design.FieldOf(r.Bed, "fixed_by"); ok && f.Text(r.Bed, r.p) == "screws" {
		list = append(list, Remedy{"lag bolts at the corners", []design.Edit{r.edit("fixed_by", "lags")}})
	}
	if f, ok := design.FieldOf(r.Bed, "cross_ties"); ok && x.path == strength.OnSide {
		now, _ := strconv.Atoi(f.Text(r.Bed, r.p))
		if now < 3 {
			list = append(
				list,
				Remedy{supports(now+1, "cross tie"), []design.Edit{r.edit("cross_ties", strconv.Itoa(now+1))}},
			)
		}
	}
	for _, p := range r.thicker() {
		list = append(list, Remedy{"boards of " + p.Name, []design.Edit{r.edit("board", p.ID)}})
		break
	}
	for _, over := range []float64{math.Sqrt(l.Ratio()), l.Ratio()} { // a push grows with the square of its depth, or the lowest board's with it
		if less := r.lessSoil(over); less > 0 && less < r.Bed.Soil {
			list = append(list, Remedy{r.p.Feet(less) + " of soil", r.to("soil", less)})
		}
	}
	return list
}
