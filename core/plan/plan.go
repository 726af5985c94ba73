// Package plan walks the whole road, from what a gardener decides to what has
// to be bought, cut, fixed, dug, filled, paid and done:
//
//	design + shop -> frames -> cuts, fixings, ground, soil -> bill, findings, steps
//
// [Make] is a pure function: no clock, no database, no chance. Every page,
// drawing and file reads its [Plan] and reckons nothing itself.
package plan

import (
	"fmt"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/cutting"
	"chamfer/core/design"
	"chamfer/core/fill"
	"chamfer/core/fixing"
	"chamfer/core/frame"
	"chamfer/core/ground"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/review"
	"chamfer/core/site"
	"chamfer/core/timber"
	"chamfer/core/work"
)

// Shop is what there is to build with: the catalogue and the workshop's habits.
type Shop struct {
	Catalog *catalog.Catalog
	Habits  catalog.Habits
	Cut     *cutting.Memo // remembers cuts from plan to plan; nil solves them anew
}

// ShopFor returns a region's shop with its usual habits.
func ShopFor(region string) (Shop, error) {
	c, err := catalog.ForRegion(region)
	if err != nil {
		return Shop{}, err
	}
	return Shop{Catalog: c, Habits: c.Habits}, nil
}

// Precision is how this workshop prints lengths.
func (s Shop) Precision() measure.Precision { return s.Catalog.Precision(s.Habits) }

// Currency is how this workshop writes money.
func (s Shop) Currency() money.Currency {
	c := s.Catalog.Currency
	if s.Habits.CurrencySymbol != "" {
		c.Symbol = s.Habits.CurrencySymbol
	}
	return c
}

// Cuts is the cutting of one profile in one timber.
type Cuts struct {
	Profile catalog.Profile
	Species catalog.Species
	Offers  []catalog.Offer // what Request's stock was made of, in its order
	Request cutting.Request
	Answer  cutting.Answer
}

// Plan is everything that follows from a design.
type Plan struct {
	Design   design.Design
	Shop     Shop
	Frames   []frame.Frame
	Cuts     []Cuts
	Fixings  fixing.Plan
	Ground   ground.Plan
	Fill     fill.Plan
	Bill     cost.Bill
	Findings []review.Finding
	Steps    []work.Step
	Tally    []Figure
	Site     site.Layout

	grass map[string]string // each bed's decision
}

// Make walks the road. It fails with [design.Refusal]s where the design breaks
// a rule, and on nothing else that a design can bring about.
func Make(d design.Design, shop Shop) (*Plan, error) {
	p, err := reckon(d, shop)
	if err != nil {
		return nil, err
	}
	p.layOut()
	p.look()
	var answers []cutting.Answer
	for _, c := range p.Cuts {
		answers = append(answers, c.Answer)
	}
	p.Steps = work.Steps(work.Input{Frames: p.Frames, Cuts: answers, Fixings: p.Fixings, Ground: p.Ground,
		Fill: p.Fill, Catalog: shop.Catalog, Habits: shop.Habits, Grass: p.grass})
	p.tally()
	return p, nil
}

// reckon is the road as far as the bill: all quantities, no words. What-ifs ask
// for it dozens of times at each edit.
func reckon(d design.Design, shop Shop) (*Plan, error) {
	if err := design.Check(d, shop.Catalog); err != nil {
		return nil, err
	}
	shop.Catalog = shop.Catalog.Measured(d.Measured)
	p := &Plan{Design: d, Shop: shop, grass: map[string]string{}}
	for _, bed := range d.Beds {
		f, err := timber.Build(bed, shop.Catalog)
		if err != nil {
			return nil, fmt.Errorf("bed %s: %w", bed.ID, err)
		}
		f.Times = bed.Times()
		p.Frames = append(p.Frames, f)
		p.grass[bed.ID] = bed.Grass
	}
	frame.Letter(p.Frames)
	if err := p.cut(); err != nil {
		return nil, err
	}
	p.Fixings = fixing.Choose(p.Frames, shop.Catalog, shop.Habits)
	var err error
	p.Ground, err = ground.Work(p.Frames, shop.Catalog, p.grass,
		func(s catalog.Sheet) money.Amount { return p.price(s.ID, s.Price) })
	if err != nil {
		return nil, err
	}
	p.Fill = fill.Work(p.Frames, shop.Catalog, shop.Habits, d.Beds[0].SoilBy,
		func(f catalog.Fill) money.Amount { return p.price(f.ID, f.Price) })
	p.bill()
	return p, nil
}

// price is the gardener's own price for a SKU, or the catalogue's.
func (p *Plan) price(sku string, listed money.Amount) money.Amount {
	if own, ok := p.Design.Prices[sku]; ok {
		return own
	}
	return listed
}

// cutEffort bounds the search for each profile: a bed or three are proved well
// within it, and an edit, which asks for dozens of plans, stays quick past that.
const cutEffort = 45_000

// cut plans every profile of every timber on its own, from the lengths that
// fit the car; longer ones are taken only where a piece is longer than the car.
func (p *Plan) cut() error {
	type stock struct{ profile, species string }
	var order []stock
	pieces := map[stock][]piece{}
	longest := map[stock]measure.Length{}
	clean := map[stock]bool{} // some piece may not keep a dog ear
	for _, f := range p.Frames {
		for _, part := range f.Parts {
			k := stock{part.Profile, part.Species}
			if _, ok := pieces[k]; !ok {
				order = append(order, k)
			}
			longest[k] = max(longest[k], part.CutLength())
			pieces[k] = addPiece(pieces[k], part, f.Times)
			clean[k] = clean[k] || !part.Eared
		}
	}
	for _, k := range order {
		c := Cuts{}
		var err error
		if c.Profile, err = p.Shop.Catalog.Profile(k.profile); err != nil {
			return err
		}
		if c.Species, err = p.Shop.Catalog.SpeciesOf(k.species); err != nil {
			return err
		}
		ear := measure.Length(0)
		if clean[k] {
			ear = c.Profile.Ear
		}
		c.Request = cutting.Request{Kerf: p.Shop.Habits.Kerf, Pieces: blanks(pieces[k], c.Profile.Width, p.Shop.Habits.Kerf), Effort: cutEffort}
		for _, o := range p.Shop.Catalog.OffersOf(k.profile, k.species) {
			if o.Length > p.Shop.Habits.Carry && longest[k] <= p.Shop.Habits.Carry {
				continue
			}
			c.Offers = append(c.Offers, o)
			c.Request.Stock = append(c.Request.Stock, cutting.Stock{ID: o.SKU, Profile: k.profile, Length: o.Length,
				TrimEnd: ear,
				Price:   p.price(o.SKU, o.Price), Quantity: cutting.Unlimited})
		}
		if c.Answer, err = p.Shop.Cut.Solve(c.Request); err != nil {
			return fmt.Errorf("cutting %s: %w", k.profile, err)
		}
		p.Cuts = append(p.Cuts, c)
	}
	return nil
}

func addPiece(list []piece, part frame.Part, times int) []piece {
	for i := range list {
		if list[i].ID == part.Letter {
			list[i].Quantity += times
			return list
		}
	}
	return append(list, piece{cutting.Piece{ID: part.Letter, Profile: part.Profile, Length: part.CutLength(), Quantity: times}, part.Width})
}

// piece is what the saw is asked for, and how wide it is ripped after.
type piece struct {
	cutting.Piece
	width measure.Length
}

// blanks counts the lengths to cut from boards: a piece that is ripped comes out
// of a length as often as its width goes into the board's, with a kerf between
// two. What is left of a board's width is not planned any further.
//
//	|<---- board ---->|
//	|strip|k|strip|k| |      (board + kerf) / (strip + kerf), whole ones
func blanks(list []piece, board, kerf measure.Length) []cutting.Piece {
	var out []cutting.Piece
	for _, p := range list {
		if each := perWidth(board, p.width, kerf); each > 1 {
			p.Quantity = (p.Quantity + each - 1) / each
		}
		out = append(out, p.Piece)
	}
	return out
}

// perWidth is how many strips of a width come out of a board side by side.
func perWidth(board, strip, kerf measure.Length) int {
	if strip <= 0 || strip >= board {
		return 1
	}
	return max(1, int((board+kerf)/(strip+kerf)))
}

func (p *Plan) bill() {
	p.Bill.TaxRate = p.Shop.Habits.TaxBasisPoints
	own := func(sku string) bool { _, ok := p.Design.Prices[sku]; return ok }
	for _, c := range p.Cuts {
		counts := c.Answer.Bought()
		for i, s := range c.Request.Stock {
			if counts[s.ID] == 0 {
				continue
			}
			why := fmt.Sprintf("cut as the cut sheet shows; least cost is %s", c.Answer.LowerBound)
			if c.Answer.Proved {
				why = "cut as the cut sheet shows; no cheaper choice of lengths exists"
			}
			p.Bill.Add(cost.Line{Group: cost.Timber, SKU: s.ID, Item: fmt.Sprintf("%s, %s, %s", c.Profile.Name, lower(c.Species.Name), c.Offers[i].Label),
				Quantity: counts[s.ID], Unit: "board", Price: s.Price, Own: own(s.ID), Why: why})
		}
	}
	for _, n := range p.Fixings.Needs {
		for _, k := range n.Packs {
			p.Bill.Add(cost.Line{Group: cost.Fixings, SKU: k.Pack.SKU, Item: n.Fixing.Name, Quantity: k.N, Unit: fmt.Sprintf("box of %d", k.Pack.Count),
				Price: p.price(k.Pack.SKU, k.Pack.Price), Own: own(k.Pack.SKU),
				Why: fmt.Sprintf("%d screws and %d %% spare, %d; the cheapest boxes that hold them", n.Count, p.Shop.Habits.SparePerMille/10, n.Buy)})
		}
	}
	for _, r := range p.Fixings.Ready {
		unit := "piece"
		if r.Fitting.Pack > 1 {
			unit = fmt.Sprintf("pack of %d", r.Fitting.Pack)
		}
		p.Bill.Add(cost.Line{Group: cost.Fixings, SKU: r.Fitting.ID, Item: r.Fitting.Name, Quantity: r.Packs, Unit: unit, Price: p.price(r.Fitting.ID, r.Fitting.Price), Own: own(r.Fitting.ID),
			Why: strings.Join(r.Why, "; ")})
	}
	for _, c := range p.Ground.Covers {
		p.Bill.Add(cost.Line{Group: cost.Sheets, SKU: c.Roll.ID, Item: c.Roll.Name, Quantity: c.Rolls, Unit: "roll", Price: p.price(c.Roll.ID, c.Roll.Price), Own: own(c.Roll.ID),
			Why: fmt.Sprintf("%d strips of %s lapped %s", c.Strips, p.Shop.Precision().Feet(c.Strip), p.Shop.Precision().Short(c.Roll.Lap))})
	}
	w := p.Fill.Way()
	unit := w.Fill.PackLabel
	if w.Fill.Kind == "bag" {
		unit = "bag"
	}
	sys := p.Shop.Catalog.System
	why := fmt.Sprintf("%s between the walls less the posts, and %d %% because it settles: %s", sys.Volume(p.Fill.Net), p.Fill.Settling/10, sys.Volume(p.Fill.Order))
	p.Bill.Add(cost.Line{Group: cost.Soil, SKU: w.Fill.ID, Item: w.Fill.Name, Quantity: w.Packs, Unit: unit, Price: p.price(w.Fill.ID, w.Fill.Price), Own: own(w.Fill.ID), Why: why})
	if w.Delivery > 0 {
		p.Bill.Add(cost.Line{Group: cost.Soil, SKU: w.Fill.ID + "/delivery", Item: "Delivery of loose soil", Quantity: 1, Unit: "load", Price: w.Delivery, Why: "one load"})
	}
}

// layOut puts the beds on their plot.
func (p *Plan) layOut() {
	plot := p.Design.PlotOr(p.Shop.Catalog)
	p.Site = site.Arrange(p.Design.Beds, p.Frames, plot, p.Design.Plot != nil, p.Shop.Catalog.Passages[plot.Passage])
}

func (p *Plan) look() {
	var unmet []cutting.Unmet
	for _, c := range p.Cuts {
		unmet = append(unmet, c.Answer.Unmet...)
	}
	for i, bed := range p.Design.Beds {
		p.Findings = append(p.Findings, review.Look(review.Input{Bed: bed, Frame: &p.Frames[i], Site: &p.Site,
			Catalog: p.Shop.Catalog, Habits: p.Shop.Habits, Unmet: unmet, Missing: p.Fixings.Missing})...)
	}
}

// lower starts a name with a small letter where it stands inside a phrase.
func lower(s string) string {
	if s != "" && s[0] >= 'A' && s[0] <= 'Z' && (len(s) < 2 || s[1] < 'A' || s[1] > 'Z') {
		return string(s[0]+'a'-'A') + s[1:]
	}
	return s
}
