package plan

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/review"
)

// Aim is what a change is sought for.
type Aim string

// The aims.
const (
	Cheaper Aim = "cheaper"
	Longer  Aim = "longer"
	Lighter Aim = "lighter"
	Quicker Aim = "quicker"
)

// Aims are all of them, with how each is asked for.
var Aims = []design.Choice{{Value: string(Cheaper), Label: "cheaper"}, {Value: string(Longer), Label: "longer-lived"},
	{Value: string(Lighter), Label: "lighter"}, {Value: string(Quicker), Label: "quicker to build"}}

// Gain is a change of one decision of a bed, or of two, with what it gains.
type Gain struct {
	Edits []design.Edit
	Words []string // "board 1x6 instead of 2x8"
	Of    Weighed  // the bed by itself, so changed
	Gain  float64  // of the aim: cents, years, kilograms or minutes; more is better
}

// Bettered is what a search for changes found, the best first.
type Bettered struct {
	Was     Weighed // the bed by itself as it is
	List    []Gain
	Singles int  // changes of one decision that were tried
	Pairs   int  // and of two
	Refused int  // of all those, that cannot be built
	Doubted int  // that bring a finding which is not there now
	Stopped bool // before all were tried
}

const (
	mostGains  = 8
	pairedOf   = 12 // of the best single changes, those that are tried in pairs
	mostTrials = 160
)

// asIs are decisions that a search leaves alone: they say what is wanted, where it stands and for whom, and not how it
// is built.
var asIs = []string{"system", "name", "count", "length", "width", "soil", "access", "reach", "grows", "tended", "on",
	"found", "points"}

// score is how good a bed is for an aim; more is better.
func (a Aim) score(w Weighed) float64 {
	switch a {
	case Longer:
		return float64(w.Life[0] + w.Life[1])
	case Lighter:
		return -float64(w.Empty)
	case Quicker:
		return -(w.Minutes[0] + w.Minutes[1]) / 2
	}
	return -float64(w.Cost)
}

// Better seeks the changes of one decision of a bed, and of two, that are best for an aim and bring no finding that is
// not there already. All single changes are tried, as far as there are no more than 160, and all pairs of the best
// twelve; what is wanted of the bed, its size and place, stays. It stops, with what was found, when ctx is done.
func (p *Plan) Better(ctx context.Context, bedID string, aim Aim) (out Bettered, err error) {
	alone := p.alone(bedID)
	bed, err := alone.Bed(bedID)
	if err != nil {
		return out, err
	}
	shop := p.Shop
	now, err := MakeFor(ctx, alone, shop)
	if err != nil {
		return out, err
	}
	out.Was = now.Weigh()
	had := troubles(now)
	type trial struct {
		edits []design.Edit
		keys  []string
		gain  *Gain
		why   string // it came to nothing: "refused", "doubted" or "stopped"
	}
	try := func(list []trial) {
		for i, fault := range tried(ctx, len(list), func(i int) {
			t := &list[i]
			if ctx.Err() != nil {
				t.why = "stopped"
				return
			}
			d, err := design.Apply(alone, shop.Catalog, t.edits...)
			if err != nil {
				t.why = "refused"
				return
			}
			asked := shop.asked()
			then, err := MakeFor(ctx, d, asked)
			switch {
			case ctx.Err() != nil:
				t.why = "stopped"
			case err != nil || len(then.Bill.Without) > len(now.Bill.Without):
				t.why = "refused"
			case slices.ContainsFunc(troubles(then), func(c string) bool { return !slices.Contains(had, c) }):
				t.why = "doubted"
			default:
				w := then.Weigh()
				t.gain = &Gain{Edits: t.edits, Of: w, Gain: aim.score(w) - aim.score(out.Was),
					Words: Differences(alone, d, shop.Precision())}
			}
		}) {
			if fault != nil {
				list[i].why, list[i].gain = "refused", nil
			}
		}
		for _, t := range list {
			switch t.why {
			case "refused":
				out.Refused++
			case "doubted":
				out.Doubted++
			case "stopped":
				out.Stopped = true
			}
		}
	}
	var singles []trial
	for _, f := range design.FieldsOf(*bed) {
		is, _ := f.Extra()
		if f.Kind != design.ChoiceField || is || slices.Contains(asIs, f.Key) || !f.Decides(shop.Catalog, *bed) {
			continue
		}
		value := f.Text(*bed, shop.Precision())
		for _, c := range f.Choices(shop.Catalog, *bed) {
			if c.Value != value && len(singles) < mostTrials {
				singles = append(singles, trial{edits: []design.Edit{{Bed: bedID, Field: f.Key, Value: c.Value}},
					keys: []string{f.Key}})
			}
		}
	}
	try(singles)
	out.Singles = len(singles)
	var good []trial
	for _, t := range singles {
		if t.gain != nil && t.gain.Gain > 0 {
			good = append(good, t)
		}
	}
	better := func(a, b trial) int {
		return cmp.Or(cmp.Compare(b.gain.Gain, a.gain.Gain), cmp.Compare(len(a.edits), len(b.edits)))
	}
	slices.SortStableFunc(good, better)
	var pairs []trial
	for i, a := range good[:min(len(good), pairedOf)] {
		for _, b := range good[:i] {
			if a.keys[0] != b.keys[0] {
				pairs = append(pairs, trial{edits: []design.Edit{b.edits[0], a.edits[0]}, keys: []string{b.keys[0], a.keys[0]}})
			}
		}
	}
	try(pairs)
	out.Pairs = len(pairs)
	for _, t := range pairs {
		if t.gain == nil {
			continue
		}
		most := 0.0 // a pair is told where it is better than either of it alone
		for _, s := range good {
			if slices.Contains(t.keys, s.keys[0]) && (s.edits[0] == t.edits[0] || s.edits[0] == t.edits[1]) {
				most = max(most, s.gain.Gain)
			}
		}
		if t.gain.Gain > most {
			good = append(good, t)
		}
	}
	slices.SortStableFunc(good, better)
	for _, t := range good[:min(len(good), mostGains)] {
		out.List = append(out.List, *t.gain)
	}
	return out, nil
}

// troubles are the codes of what stops a plan or wants mending.
func troubles(p *Plan) (codes []string) {
	for _, f := range p.Findings {
		if f.Severity != review.Note {
			codes = append(codes, f.Code)
		}
	}
	return codes
}

// Claim says what a search tried, and what it did not.
func (b Bettered) Claim() string {
	text := fmt.Sprintf("%s of one decision and %d of two were tried on this bed by itself; %d cannot be built, %d would"+
		" bring something to mend.", measure.Count(b.Singles, "change"), b.Pairs, b.Refused, b.Doubted)
	if b.Stopped {
		text += " It was stopped before all were."
	}
	return text + " Sizes, place and what was added were left as they are; pairs are of the twelve best."
}
