package review

import (
	"fmt"
	"slices"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/why"
)

// unfit are timbers that do not belong round food, and why.
var unfit = map[string]struct{ words, why, source string }{
	"ties": {
		"Old railway ties are soaked in creosote",
		"Creosote goes through soil and skin and causes cancer; it is sold for no garden use.",
		"US EPA 2008 (creosote: no residential uses); REACH Annex XVII entry 31 (from memory)",
	},
	"old-treated": {
		"Boards treated before 2004 usually hold arsenic",
		"Copper chrome arsenate leaches into soil; its dust and smoke are poison.",
		"US EPA, 68 FR 17366: no treating for most residential uses after 2003 (from memory)",
	},
	"pallets": {
		"Nobody knows what was spilt on pallets without a mark, or sprayed into them",
		"Only pallets marked HT (heat treated) and never loaded with chemicals are known to be clean.",
		"ISPM 15 marks (from memory); common practice",
	},
}

var _ = check(20, (*reviewer).fit, "unfit-timber")

// sound checks where the timber is from.
func (r *reviewer) fit() {
	u, ok := unfit[r.Bed.Found]
	if !ok || len(r.Frame.Parts) == 0 {
		return
	}
	f := Finding{Code: "unfit-timber", Severity: Stop, Parts: r.boards(), Text: u.words + ": not round what is eaten.",
		Why:      Why{Given: []string{"its timber is: " + r.Bed.Found}, Rule: u.why, Source: u.source},
		Remedies: []Remedy{{"timber from the shop", []design.Edit{r.edit("found", "shop")}}}}
	if r.Bed.Grows == design.Flowers {
		f.Severity, f.Text = Warning, u.words+": do not saw it, and keep hands and children off it."
	}
	r.report(f)
}

var _ = check(300, (*reviewer).lined, "liner-food", "trough-earth")

// lined tells of plastic between boards and the soil of food.
func (r *reviewer) lined() {
	of := r.Frame.Lined()
	if of == catalog.Trough && r.Bed.On == design.OnGround && !r.Frame.OnFeet {
		r.report(Finding{Code: "trough-earth", Severity: Warning,
			Text: "A trough keeps the bed from the ground: water stands in it, and no worm comes up.",
			Why: Why{Given: []string{"lining: a trough", "it stands on the ground"},
				Rule: "A bed that stands on earth is left open below: its walls may be lined, its bottom is not. A trough is" +
					" for paving, decks and legs.",
				Source: "common practice"},
			Remedies: []Remedy{
				{"membrane on the walls alone", []design.Edit{r.edit("liner", catalog.Membrane)}},
				{"no lining", []design.Edit{r.edit("liner", design.NotThere)}}}})
	}
	if of != catalog.Membrane && of != catalog.Trough || r.Bed.Grows == design.Flowers {
		return
	}
	r.report(Finding{Code: "liner-food", Severity: Note, Text: "The lining touches the soil of what you eat.",
		Why: Why{
			Given: []string{"lining: " + map[string]string{catalog.Membrane: "membrane", catalog.Trough: "a trough"}[of],
				"to grow: " + string(r.Bed.Grows)},
			Rule: "Gardeners disagree. For it: boards behind a membrane last longer, and sheets sold for ponds or drinking" +
				" water are made to leach least. Against it: nobody has tested most sheets in soil for years, and wet that" +
				" gets behind one stays there. Fabric lets the boards dry; flowers do not mind.",
			Source: "common practice; gardeners disagree",
		},
		Remedies: []Remedy{
			{"fabric instead", []design.Edit{r.edit("liner", "fabric")}},
			{"no lining", []design.Edit{r.edit("liner", design.NotThere)}},
		}})
}

var _ = check(320, (*reviewer).metal, "metal")

// metal tells what treated timber does to screws.
func (r *reviewer) metal() {
	if !r.species.Treated || len(r.Frame.Joints) == 0 {
		return
	}
	r.report(
		Finding{
			Code:     "metal",
			Severity: Note,
			Text: "Treated timber eats plain steel: use the coated screws listed here, or hot-dip galvanised or" +
				" stainless ones, and no leftovers of plain steel.",
			Why: Why{
				Given: []string{r.species.Name},
				Rule: "The copper in it and plain or thinly plated steel make a battery with the wet; heads come" +
					" off in a few years.",
				Source: "IRC R317.3.1: hot-dip galvanised to ASTM A153, stainless, or coated as its maker says (from" +
					" memory)",
			},
		},
	)
}

var _ = check(310, (*reviewer).pointed, "mesh-points")

// pointed tells of cut mesh.
func (r *reviewer) pointed() {
	for _, s := range r.Frame.Sheets {
		if s.Material == "mesh" {
			r.report(
				Finding{
					Code:     "mesh-points",
					Severity: Note,
					Text: "Cut mesh has points: wear gloves, and turn every cut edge down or in, where no" +
						" hand digs.",
					Why: Why{
						Given:  []string{s.Place},
						Rule:   "Points at the rim scratch whoever weeds there for years.",
						Source: "common practice",
					},
				},
			)
			return
		}
	}
}

var _ = check(340, (*reviewer).packs, "half-pack", "no-settling")

// packs tells of screws that are bought to lie about, and of soil that is not ordered
// looser than it will lie. Both are of the whole project and told with its first bed.
func (r *reviewer) packs() {
	if !r.First {
		return
	}
	for _, n := range r.Needs {
		bought := 0
		for _, k := range n.Packs {
			bought += k.N * k.Pack.Count
		}
		if left := bought - n.Buy; 3*left > 2*bought && left > 20 {
			r.report(
				Finding{
					Code:     "half-pack",
					Severity: Note,
					Text:     fmt.Sprintf("Of %s two thirds are left over: %d of %d.", n.Fixing.Name, left, bought),
					Why: Why{
						Steps: []why.Step{
							why.Given("needed and spare", why.Count(n.Buy)),
							why.Given("in the packs", why.Count(bought)),
							{
								Name: "left for the shed",
								Of:   why.Less(why.Count(bought), why.Count(n.Buy)),
								As:   why.Number,
							},
						},
						Rule: "The cheapest packs that hold what is needed are bought; a smaller pack costs more," +
							" or there is none.",
						Source: "your prices"},
				},
			)
			return
		}
	}
	if r.Habits.SettlingPerMille == 0 && len(r.Frame.Cavities) > 0 {
		r.report(
			Finding{
				Code:     "no-settling",
				Severity: Note,
				Text:     "Nothing is ordered for settling: by the second summer the soil will lie a hand lower.",
				Why: Why{
					Given:  []string{"share for settling 0 %, in your habits"},
					Rule:   "Loose soil and compost lose 10 to 20 % of their depth in the first season.",
					Source: "common practice",
				},
			},
		)
	}
}

var _ = check(330, (*reviewer).otherTimber, "other-timber")

// otherTimber tells of pieces whose profile is not sold in the timber that was chosen, so
// that they come in another.
func (r *reviewer) otherTimber() {
	front := ""
	if d, ok := design.Serve(r.Bed, design.FacesFront); ok {
		front = d.Text(r.Bed, r.p)
	}
	kinds := map[string][]string{} // by timber
	var parts, order []string
	for _, p := range r.Frame.Parts {
		if p.Species == r.Bed.Species || p.Species == front || p.Species == "" ||
			r.Catalog.Sold(p.Profile, r.Bed.Species) {
			continue
		}
		profile, err := r.Catalog.Profile(p.Profile)
		if err != nil || profile.Kind == catalog.Panel { // plywood is what it is
			continue
		}
		if kinds[p.Species] == nil {
			order = append(order, p.Species)
		}
		if kind := string(p.Kind); !slices.Contains(kinds[p.Species], kind) {
			kinds[p.Species] = append(kinds[p.Species], kind)
		}
		parts = append(parts, p.ID)
	}
	if len(parts) == 0 {
		return
	}
	var said []string
	for _, id := range order {
		wood, err := r.Catalog.SpeciesOf(id)
		if err != nil {
			continue
		}
		said = append(said, fmt.Sprintf("%s: %s", wood.Name, strings.Join(kinds[id], ", ")))
	}
	r.report(Finding{Code: "other-timber", Severity: Note, Parts: parts,
		Text: "Not all of it is " + r.species.Name + ": " + strings.Join(said, "; ") + ".",
		Why: Why{
			Given: []string{"chosen: " + r.species.Name},
			Rule: "Where a size is not sold in the timber that was chosen, the one that lasts longest is taken;" +
				" treated timber is treated, whatever the boards are.",
			Result: strings.Join(said, "; ") + ".",
			Source: "the shop's lengths and sizes",
		}})
}
