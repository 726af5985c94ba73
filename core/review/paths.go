package review

import (
	"fmt"
	"slices"

	"chamfer/core/strength"
	"chamfer/core/why"
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

var _ = check(100, (*reviewer).followed, "floor-path", "pulls-side", "pulls-end", "sat-on", "in-wind")

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
			if l.Holds <= 0 && len(r.Missing) > 0 { // no screw of the shop is right, which is told
				continue
			}
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
		Why: Why{Steps: append(r.pathSteps(x), share(l)...), Rule: rule.Words,
			Result: fmt.Sprintf("About %.0f %% is expected to break it, and of twenty the weakest at %.0f %%.",
				100*l.Breaks/l.Holds, 100*l.Much()),
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
	strength.Wind: "wind: 0.6 of 16 lb/ft² on half of what is in leaf, ASCE 7-16 29.7 (from memory); local codes" +
		" come first",
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
	if name := r.thing(id); name != "" {
		return name
	}
	return id
}

// thing is what a fitting is called that wind takes hold of, "" for others.
func (r *reviewer) thing(id string) string {
	for _, x := range r.Frame.Fittings {
		if name := map[string]string{"hoop": "the hoops", "panel": "the arch"}[x.Kind]; x.ID == id && name != "" {
			return name
		}
	}
	return ""
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
			r.role(l.From),
			r.force(l.Load),
			good,
		)
	case strength.Crushing:
		return fmt.Sprintf(
			"%s presses on %s with %s; the wood there is good for %s, and sinks in by the thickness of a coin at"+
				" about %s.",
			upper(r.role(l.From)),
			r.role(l.To),
			r.force(l.Load),
			r.force(l.Holds),
			r.force(l.Breaks),
		)
	case strength.Bending, strength.Shearing, strength.Stretched:
		how := map[strength.Way]string{strength.Bending: "as a beam", strength.Shearing: "as a beam, and wants to" +
			" split along the grain", strength.Stretched: "along its grain"}[l.Way]
		return fmt.Sprintf("%s carries %s %s; it is %s it.", upper(r.role(l.From)), r.force(l.Load), how, good)
	}
	return fmt.Sprintf("At %s %s brings %s; it is %s it.", r.role(l.From), x.what, r.force(l.Load), good)
}

func upper(s string) string {
	if s != "" && s[0] >= 'a' && s[0] <= 'z' {
		return string(s[0]-'a'+'A') + s[1:]
	}
	return s
}

// pathSteps is the path from what brings the load to the ground, each kind of link at its
// worst, the worst first.
func (r *reviewer) pathSteps(x route) []why.Step {
	of := func(id string) string {
		if p, ok := r.Frame.Part(id); ok {
			return string(p.Kind)
		}
		return id
	}
	var list []why.Step
	for _, l := range strength.Gathered(r.Links, x.path, of) {
		if l.Holds <= 0 {
			continue
		}
		what := fmt.Sprintf("%s to %s, %s", of(l.From), of(l.To), l.Way)
		if l.From == l.To {
			what = fmt.Sprintf("%s, %s", of(l.From), l.Way)
		}
		list = append(list, why.Step{Name: what, As: why.Share,
			Of: why.Over(why.Of(why.Force, l.Load), why.Of(why.Force, l.Holds))})
		if len(list) == mostTold {
			break
		}
	}
	return list
}

// mostTold is how many links of a path a reason names.
const mostTold = 8
