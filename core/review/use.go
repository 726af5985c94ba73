package review

import (
	"fmt"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/why"
)

// band is a height that suits, and who says so.
type band struct {
	least, most measure.Length
	words       string
	source      string
}

const (
	in = measure.Inch
	mm = measure.Millimetre
)

// rims are the heights of a rim that suit whoever tends a bed: standing 32 to 38 in, a
// little below the elbow; seated 24 to 30 in; knees under it, a rim no higher than a
// work surface of 34 in.
var rims = map[design.Tending]band{
	design.Upright: {
		32 * in,
		40 * in,
		"standing upright",
		"32 to 38 in (810 to 965 mm), up to 40 in for the tall: common practice, a little below the elbow",
	},
	design.Seated: {
		18 * in,
		30 * in,
		"seated beside it",
		"24 to 30 in (610 to 760 mm), as low as a seat of 18 in: common practice",
	},
	design.Wheelchair: {
		28 * in,
		34 * in,
		"from a wheelchair",
		"work surfaces 28 to 34 in (710 to 865 mm): ADA 2010 902.3 (from memory)",
	},
}

// knees is the room under what a wheelchair rolls up to: 27 in (685 mm) high (ADA 2010
// 306.3, from memory).
const knees = 27 * in

var _ = check(180, (*reviewer).height, "low", "high", "knees")

// height checks the rim, and the room for knees, against who tends the bed.
func (r *reviewer) height() {
	want, ok := rims[r.Bed.Tended]
	if !ok || len(r.Frame.Cavities) == 0 {
		return
	}
	rim := r.Frame.Rim
	to := func(l measure.Length) []Remedy {
		if d, ok := design.Serve(r.Bed, design.SetsRim); ok && d.LengthOf(r.Bed) == rim {
			return []Remedy{{"a rim at " + r.p.Feet(l), r.to(d.Key, l)}}
		}
		legs, ok := design.SystemFor(design.AtWorkHeight)
		if !ok || !r.Frame.Screwed() || r.Frame.OnFeet {
			return nil
		}
		// As large and as deep as one on legs usually is (common practice).
		long, wide, deep := min(r.Bed.Length, 48*in), min(r.Bed.Width, 24*in), min(r.Bed.Soil, 9*in)
		if r.p.System == measure.Metric {
			long, wide, deep = min(r.Bed.Length, 1200*mm), min(r.Bed.Width, 600*mm), min(r.Bed.Soil, 225*mm)
		}
		e := []design.Edit{
			r.edit("system", legs.Name),
			r.edit("length", long.String()),
			r.edit("width", wide.String()),
			r.edit("soil", deep.String()),
			r.edit("height", l.String()),
		}
		return []Remedy{
			{
				fmt.Sprintf(
					"a %s of %s by %s, its rim at %s",
					strings.ToLower(legs.Title),
					r.p.Feet(long),
					r.p.Feet(wide),
					r.p.Feet(l),
				),
				e,
			},
		}
	}
	say := func(code, text string, l measure.Length) {
		r.report(Finding{Code: code, Severity: Note, Text: text, Remedies: to(l),
			Why: Why{
				Given: []string{"rim " + r.p.Feet(rim) + " above the ground", "tended " + want.words},
				Rule:  "Arms reach over a rim without a bent back where it is a little below the elbow.",
				Result: "What suits is " + r.p.Feet(
					want.least,
				) + " to " + r.p.Feet(
					want.most,
				) + ".",
				Source: want.source,
			}})
	}
	switch {
	case rim < want.least:
		say(
			"low",
			fmt.Sprintf("At %s its rim is low to be tended %s.", r.p.Feet(rim), want.words),
			(want.least+want.most)/2/in*in,
		)
	case rim > want.most:
		say("high", fmt.Sprintf("At %s its rim is high to be tended %s.", r.p.Feet(rim), want.words), want.most)
	}
	if r.Bed.Tended != design.Wheelchair {
		return
	}
	under := rim
	for _, p := range r.Frame.Parts {
		if lo, _ := p.Body.Bounds(); p.Kind != frame.Leg {
			under = min(under, lo.Z)
		}
	}
	if !r.Frame.OnFeet {
		under = 0
	}
	if under >= knees {
		return
	}
	f := Finding{
		Code:     "knees",
		Severity: Note,
		Text: fmt.Sprintf(
			"Knees find %s under it; a wheelchair rolls up to it with %s.",
			r.p.Feet(under),
			r.p.Feet(knees),
		),
		Why: Why{
			Given: []string{r.p.Feet(under) + " below its lowest board"},
			Rule:  "Whoever sits in a wheelchair works forward, with knees under the planter.",
			Result: "The least is " + r.p.Feet(
				knees,
			) + " high and 30 in (760 mm) wide.",
			Source: "ADA 2010 306.3 (from memory)",
		},
	}
	if h, ok := design.Serve(r.Bed, design.SetsRim); ok && r.Frame.OnFeet {
		if more := h.LengthOf(r.Bed) + knees - under; more <= 48*in {
			f.Remedies = []Remedy{{"a rim at " + r.p.Feet(more), r.to(h.Key, more)}}
		}
	}
	r.report(f)
}

// roots are how deep soil wants to be for what is to grow (common practice; extension
// leaflets vary: shallow 6 to 8 in, middling 10 to 12, deep 16 to 24, perennials 18 to 24).
var roots = map[design.Growing][2]measure.Length{
	design.Salads: {
		6 * in,
		150 * mm,
	}, design.Greens: {10 * in, 250 * mm}, design.Fruits: {16 * in, 400 * mm}, design.Perennials: {18 * in, 450 * mm},
}

var _ = check(190, (*reviewer).shallow, "shallow")

// shallow checks the depth of soil against what is to grow. Where a bed is open to the
// ground, a spade's depth of that counts.
func (r *reviewer) shallow() {
	both, ok := roots[r.Bed.Grows]
	if !ok || len(r.Frame.Cavities) == 0 {
		return
	}
	want, spade := both[0], 10*in
	if r.p.System == measure.Metric {
		want, spade = both[1], 250*mm
	}
	given := []string{r.p.Feet(r.Bed.Soil) + " of soil"}
	if r.Bed.On == design.OnGround && !r.Frame.OnFeet && r.Bed.Under != "fabric" && len(r.Frame.Floors) == 0 {
		want -= spade
		given = append(given, "open to the ground, whose upper "+r.p.Feet(spade)+" counts once it is dug")
	}
	if r.Bed.Soil >= want {
		return
	}
	r.report(
		Finding{
			Code:     "shallow",
			Severity: Warning,
			Text: fmt.Sprintf(
				"What is to grow here wants %s of soil, and finds %s.",
				r.p.Feet(want),
				r.p.Feet(r.Bed.Soil),
			),
			Why: Why{
				Given:  given,
				Rule:   "Roots that meet the bottom early want water every day and bear little.",
				Result: "The least is " + r.p.Feet(want) + ".",
				Source: "common practice; leaflets of extension services vary",
			},
			Remedies: []Remedy{{r.p.Feet(want) + " of soil", r.to("soil", want)}},
		},
	)
}

var _ = check(240, (*reviewer).seats, "seat")

// seats tells of a cap at the height of a seat that is too narrow to be one.
func (r *reviewer) seats() {
	board, err := r.Catalog.Profile(r.Bed.CapProfile)
	if err != nil || r.Bed.Cap == design.NoCap || r.Frame.Rim < 16*in || r.Frame.Rim > 24*in ||
		board.Width >= design.SeatWide {
		return
	}
	f := Finding{
		Code:     "seat",
		Severity: Note,
		Parts:    r.kind(frame.CapBoard),
		Text: fmt.Sprintf(
			"At %s people will sit on the cap, and %s across is too narrow for that.",
			r.p.Feet(r.Frame.Rim),
			r.p.Short(board.Width),
		),
		Why: Why{
			Given: []string{"rim " + r.p.Feet(r.Frame.Rim), "cap " + r.p.Short(board.Width) + " across"},
			Rule:  "A rim of 18 to 20 in (460 to 510 mm) is a seat, where its cap is wide enough.",
			Result: "The least is " + r.p.AtLeast(
				design.SeatWide,
			) + ", and 6 to 12 in (150 to 300 mm) is comfortable.",
			Source: "common practice",
		},
	}
	for _, p := range r.Catalog.Profiles {
		if p.Kind == catalog.Board && p.Width >= design.SeatWide && p.Width <= r.Bed.Width &&
			p.Thickness == board.Thickness &&
			r.Catalog.Sold(p.ID, design.SpeciesFor(r.Catalog, p.ID, r.Bed.Species)) {
			f.Remedies = []Remedy{{"a cap of " + p.Name, []design.Edit{r.edit("cap_profile", p.ID)}}}
			break
		}
	}
	r.report(f)
}

var _ = check(250, (*reviewer).covered, "under-cap")

// covered tells of soil that lies under the cap, where it is bought and nothing grows.
func (r *reviewer) covered() {
	if r.Bed.Cap == design.NoCap || len(r.Frame.Cavities) != 1 || r.Bed.CapIn <= 0 {
		return
	}
	all := frame.OutlineArea(r.Frame.Cavities[0].Outline)
	open := r.Frame.PlantingArea()
	hidden := all - open
	if hidden*8 <= all {
		return
	}
	sys := r.Catalog.System
	r.report(
		Finding{
			Code:     "under-cap",
			Severity: Note,
			Parts:    r.kind(frame.CapBoard),
			Text: fmt.Sprintf(
				"%s of the soil lies under the cap's inner overhang, where nothing grows.",
				sys.Area(hidden),
			),
			Why: Why{
				Steps: []why.Step{
					why.Given("between the walls", why.Face(all)),
					why.Given("clear inside the cap", why.Face(open)),
					{
						Name: "under it",
						Of:   why.Over(why.Less(why.Face(all), why.Face(open)), why.Face(all)),
						As:   why.Share,
					},
				},
				Rule:   "A cap that stands inwards takes its overhang off the planting on every side.",
				Source: "geometry",
			},
			Remedies: []Remedy{{"flush inside", r.to("cap_in", 0)}},
		},
	)
}

// kind lists the parts of a kind.
func (r *reviewer) kind(kind frame.PartKind) []string {
	var ids []string
	for _, p := range r.Frame.Parts {
		if p.Kind == kind {
			ids = append(ids, p.ID)
		}
	}
	return ids
}
