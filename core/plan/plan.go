// Package plan walks the whole road, from what a gardener decides to what has
// to be bought, cut, fixed, dug, filled, paid and done:
//
//	design + shop -> frames -> cuts, fixings, ground, soil -> bill, findings, steps
//
// [Make] is a pure function: no clock, no database, no chance. Every page,
// drawing and file reads its [Plan] and reckons nothing itself.
package plan

import (
	"context"
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strings"
	"sync/atomic"

	"chamfer/core/aside"
	"chamfer/core/builder"
	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/cutting"
	"chamfer/core/design"
	"chamfer/core/fill"
	"chamfer/core/finish"
	"chamfer/core/fixing"
	"chamfer/core/frame"
	"chamfer/core/ground"
	"chamfer/core/laying"
	_ "chamfer/core/masonry" // registers its systems
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/planting"
	"chamfer/core/review"
	"chamfer/core/site"
	"chamfer/core/strength"
	"chamfer/core/terrain"
	_ "chamfer/core/timber" // likewise
	"chamfer/core/water"
	"chamfer/core/why"
	"chamfer/core/words"
	"chamfer/core/work"
)

// Shop is what there is to build with: the catalogue and the workshop's habits.
type Shop struct {
	Catalog *catalog.Catalog
	Habits  catalog.Habits
	Shed    []catalog.Leftover
	Found   []cutting.Found // plans to start from, of searches elsewhere
	Cut     *cutting.Memo   // remembers cuts from plan to plan; nil solves them anew
	Sizes   *Sizes          // remembers sizes that were asked for; nil works them out anew

	effort  int64 // of cutting; 0 for what a plan that is shown is given
	checked bool  // the design has passed design.Check
}

// ShopFor returns a region's shop with its usual habits.
func ShopFor(region string) (Shop, error) {
	c, err := catalog.ForRegion(region)
	if err != nil {
		return Shop{}, err
	}
	return Shop{Catalog: c, Habits: c.Habits}, nil
}

// asked is the shop of a plan that is only asked the price of; [design.Apply] has checked its design.
func (s Shop) asked() Shop {
	s.effort, s.checked = askedEffort, true
	return s
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

// Plan is everything that follows from a design.
type Plan struct {
	Design     design.Design
	Shop       Shop
	Frames     []frame.Frame
	Cuts       []Cuts
	Fixings    fixing.Plan
	Laying     laying.Plan
	Ground     ground.Plan
	Survey     terrain.Survey     // what the readings of the ground come to
	Surface    *terrain.Surface   // the ground as it was measured; nil where it was not
	Formations []ground.Formation // below each bed that stands on it
	Walks      []ground.Walk      // paths between the beds on it
	Fill       fill.Plan
	Water      water.Plan
	Finish     finish.Plan
	Bill       cost.Bill
	Links      []strength.Link // of every load, to the ground
	Findings   []review.Finding
	Steps      []work.Step
	Tally      []why.Figure
	Site       site.Layout
	Crops      planting.Table // that can be grown
	Growing    []Growing      // in each bed

	answered *answered // what was asked of it

	dug     bool                       // the ground was worked out
	led     bool                       // and so was the water
	edging  []frame.Fitting            // of covered paths
	waiting context.Context            // while it is made: who asked
	draft   *fixing.Draft              // while it is made: every bed's screws, for one to be tried anew
	grass   map[string]string          // each bed's decision
	on      map[string]design.Standing // what each bed stands on
}

// Make walks the road. It fails with [design.Refusal]s where the design breaks
// a rule, and on nothing else that a design can bring about.
func Make(d design.Design, shop Shop) (*Plan, error) { return MakeFor(context.Background(), d, shop) }

// MakeFor is Make for someone who may stop waiting: it fails with the context's error
// once that is done.
func MakeFor(ctx context.Context, d design.Design, shop Shop) (*Plan, error) {
	p, err := raise(ctx, d, shop, nil)
	if err != nil {
		return nil, err
	}
	p.waiting, p.answered = ctx, &answered{}
	defer func() { p.waiting = nil }()
	p.layOut()
	p.grow()
	p.dig(nil)
	if err := p.lead(); err != nil {
		return nil, err
	}
	// The second look hardly ever waits for the cuts: only what cannot be had of them is told.
	for _, fault := range aside.Do(2, func(i int) {
		if i == 0 {
			err = p.quantities(nil)
			return
		}
		p.look(nil)
	}) {
		if fault != nil {
			return nil, fault
		}
	}
	if err != nil {
		return nil, err
	}
	if unmet := p.lacked(); len(unmet) > 0 {
		p.Links, p.Findings = nil, nil
		p.look(unmet)
	}
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	var answers []cutting.Answer
	spares := 0
	for _, c := range p.Cuts {
		answers = append(answers, c.Answer)
		_, n := p.spareBoards(c)
		spares += n
	}
	p.Steps = work.Steps(work.Input{Frames: p.Frames, Cuts: answers, Spares: spares, Fixings: p.Fixings, Ground: p.Ground,
		Formations: p.Formations, Walks: p.Walks, Even: d.GroundOr().Even == "even",
		Fill: p.Fill, Water: p.Water, Finish: p.Finish, Laying: p.Laying,
		Catalog: shop.Catalog, Habits: shop.Habits,
		Grass: p.grass, Earth: d.GroundOr().Earth, On: p.on, Edging: p.edging,
		Decks: slices.ContainsFunc(d.Beds, func(b design.Bed) bool { return b.On == design.OnDeck })})
	p.tally()
	return p, nil
}

// Reckon walks the road as far as the figures of the tally, for whoever compares: no
// second look, no steps.
func Reckon(d design.Design, shop Shop) (*Plan, error) {
	p, err := reckon(context.Background(), d, shop, nil)
	if err != nil {
		return nil, err
	}
	p.tally()
	return p, nil
}

// Outline walks the road as far as the beds as they stand, for whoever only draws them.
func Outline(d design.Design, shop Shop) (*Plan, error) {
	p, err := raise(context.Background(), d, shop, nil)
	if err != nil {
		return nil, err
	}
	p.layOut()
	p.grow()
	return p, nil
}

// reckoned counts plans that were begun.
var reckoned atomic.Int64

// reckon is the road as far as the bill: all quantities, no words. What-ifs ask
// for it dozens of times at each edit; beds they leave as they are in the plan
// they start from are not built anew.
func reckon(ctx context.Context, d design.Design, shop Shop, from *Plan) (*Plan, error) {
	p, err := raise(ctx, d, shop, from)
	if err != nil {
		return nil, err
	}
	return p, p.quantities(from)
}

// raise builds the frames, and chooses what holds them together.
func raise(ctx context.Context, d design.Design, shop Shop, from *Plan) (*Plan, error) {
	if err := ctx.Err(); err != nil {
		return nil, err // nobody waits for it
	}
	reckoned.Add(1)
	if !shop.checked {
		if err := design.Check(d, shop.Catalog); err != nil {
			return nil, err
		}
	}
	shop.checked = false
	shop.Catalog = d.Catalog(shop.Catalog)
	p := &Plan{Design: d, Shop: shop, grass: map[string]string{}, on: map[string]design.Standing{}}
	for _, bed := range d.Beds {
		f, ok := from.built(bed, d.Measured)
		if !ok {
			var err error
			if f, err = builder.Build(bed, shop.Catalog); err != nil {
				return nil, fmt.Errorf("bed %s: %w", bed.ID, err)
			}
		}
		f.Times = bed.Times()
		p.Frames = append(p.Frames, f)
		p.on[bed.ID] = bed.On
		if p.grass[bed.ID] = bed.Grass; bed.On != design.OnGround {
			p.grass[bed.ID] = "" // there is none
		}
	}
	if err := p.bounded(); err != nil {
		return nil, err
	}
	frame.Letter(p.Frames)
	p.Fixings = fixing.Choose(p.Frames, shop.Catalog, shop.Habits)
	p.Fixings.Use(d.Have)
	return p, nil
}

// quantities is what all is cut, laid, dug and filled from, and the bill of it.
func (p *Plan) quantities(from *Plan) error {
	d, cat := p.Design, p.Shop.Catalog
	if err := p.cut(from); err != nil {
		return err
	}
	var err error
	if p.Laying, err = laying.Work(p.Frames, cat, p.price); err != nil {
		return err
	}
	p.Laying.Use(d.Have, d.Broken, p.price)
	p.dig(from)
	p.Ground, err = ground.Work(p.Frames, cat, p.grass, p.pathArea(),
		func(s catalog.Sheet) money.Amount { return p.price(s.ID, s.Price) })
	if err != nil {
		return err
	}
	p.Ground.Count(p.Frames, p.Formations, p.Walks, d.GroundOr(), p.Laying.Dug, cat)
	dug := p.Ground.Account
	p.Fill = fill.Work(fill.Input{Frames: p.Frames, Beds: d.Beds, Catalog: cat, Habits: p.Shop.Habits,
		By:   d.Beds[0].SoilBy,
		Have: d.Have, Topsoil: dug.Offered, Turf: dug.Under, Paths: p.Ground.Paths.By(ground.PathDeep(cat)), Price: p.price})
	p.Ground.Close(p.Fill.Topsoil, p.Fill.Turf, cat)
	if err := p.lead(); err != nil {
		return err
	}
	p.Finish = finish.Work(d.Beds, p.Frames, cat, p.price)
	p.bill()
	return nil
}

// built is the frame of a bed that is just as it is in p.
func (p *Plan) built(bed design.Bed, measured map[string]catalog.Section) (frame.Frame, bool) {
	if p == nil || !maps.Equal(p.Design.Measured, measured) {
		return frame.Frame{}, false
	}
	for i, b := range p.Design.Beds {
		if b.ID == bed.ID && reflect.DeepEqual(b, bed) {
			f := p.Frames[i]
			f.Parts = slices.Clone(f.Parts) // they are lettered anew
			return f, true
		}
	}
	return frame.Frame{}, false
}

// spareBoards are so many more of the longest board that is bought of a kind: any of its pieces can be cut from it
// again. It counts those that have been to the saw, so that the number stays while they are cut.
func (p *Plan) spareBoards(c Cuts) (sku string, n int) {
	bought, longest, left := 0, measure.Length(0), cutting.Unlimited
	counts := c.Bought(p.Design.Saw)
	for _, s := range c.Request.Stock {
		if Owned(s.ID) || counts[s.ID] == 0 {
			continue
		}
		bought += counts[s.ID]
		if s.Length > longest {
			if sku, longest, left = s.ID, s.Length, cutting.Unlimited; s.Quantity != cutting.Unlimited {
				left = s.Quantity - counts[s.ID] // the shop has no more to spare
			}
		}
	}
	n = (bought*p.Shop.Habits.SpoiltPerMille + 999) / 1000
	if left != cutting.Unlimited {
		n = min(n, left)
	}
	for _, i := range c.Sawn {
		for _, cut := range p.Design.Saw[i].Cuts {
			if cut.Waste { // a spare one has stood in for it
				n--
			}
		}
	}
	return sku, max(0, n)
}

// price is the gardener's own price for a SKU, or the catalogue's.
func (p *Plan) price(sku string, listed money.Amount) money.Amount {
	if own, ok := p.Design.Prices[sku]; ok {
		return own
	}
	return listed
}

func (p *Plan) bill() {
	p.Bill.TaxRate = p.Shop.Habits.TaxBasisPoints
	own := func(sku string) bool { _, ok := p.Design.Prices[sku]; return ok }
	for _, c := range p.Cuts {
		counts := c.Bought(p.Design.Saw)
		sku, spare := p.spareBoards(c)
		counts[sku] += spare
		for i, s := range c.Request.Stock {
			if counts[s.ID] == 0 || strings.HasPrefix(s.ID, HandStock) || strings.HasPrefix(s.ID, PieceStock) {
				continue
			}
			why := "Cut as the cut sheet shows. " + c.Claim(p.Shop.Currency())
			if spare > 0 && s.ID == sku {
				why += " " + measure.Count(spare, "board") + " of them to spare."
			}
			p.Bill.Add(
				cost.Line{
					Group:    cost.Timber,
					SKU:      s.ID,
					Item:     c.itemOf(c.Offers[i], p.Shop.Catalog),
					Quantity: counts[s.ID],
					Unit:     "board",
					Price:    s.Price,
					Own:      own(s.ID),
					Owned:    Owned(s.ID),
					Why:      why,
				},
			)
			delete(counts, s.ID)
		}
		p.sawnBill(c, counts)
		for _, u := range c.Answer.Unmet {
			p.Bill.Without = append(p.Bill.Without, p.lacking(c, u))
		}
	}
	if n := len(p.Fixings.Missing); n > 0 {
		p.Bill.Without = append(p.Bill.Without, "fixings for "+measure.Count(n, "joint"))
	}
	shopCuts := -p.Shop.Habits.ShopFree
	for _, c := range p.Cuts {
		shopCuts += c.Answer.ShopCuts
	}
	if fee := p.price(catalog.ShopCut, p.Shop.Habits.ShopFee); shopCuts > 0 && fee > 0 {
		p.Bill.Add(
			cost.Line{
				Group:    cost.Timber,
				SKU:      catalog.ShopCut,
				Item:     "Cuts at the shop",
				Quantity: shopCuts,
				Unit:     "cut",
				Price:    fee,
				Own:      own(catalog.ShopCut),
				Why:      fmt.Sprintf("so that the boards fit the car; %d more are free", p.Shop.Habits.ShopFree),
			},
		)
	}
	st, there := p.Style(), maps.Clone(p.Design.Have)
	for _, lines := range [][]cost.Line{
		p.Laying.Lines(st, own, p.price),
		p.Fixings.Lines(p.Shop.Habits.SparePerMille, own, p.price),
		p.Ground.Lines(st, own, p.price),
		p.Fill.Lines(p.Frames, st, own, p.price),
		p.Water.Lines(st.Lengths, own, p.price),
		p.Finish.Lines(st, own, p.price),
	} {
		for _, l := range lines {
			p.Bill.Add(p.mine(&l, there))
			p.Bill.Add(l)
		}
	}
	for i := range p.Bill.Lines {
		l := &p.Bill.Lines[i]
		if s, ok := p.Shop.Catalog.SaleOf(l.SKU); ok && !l.Owned {
			l.At, l.Left, l.Brought = s.At, s.Left, s.Brought
		}
		if of, loose := strings.CutSuffix(l.SKU, catalog.Delivery); loose { // who sells it brings it
			if s, ok := p.Shop.Catalog.SaleOf(of); ok {
				l.At, l.Left, l.Brought = s.At, catalog.Plenty, s.Brought
			}
		}
	}
}

// ByPack reports whether what is there already of a line counts by the pack it is bought in. Boards, blocks, screws
// and soil have counts of their own.
func (p *Plan) ByPack(l cost.Line) bool {
	switch l.Group {
	case cost.Sheets, cost.Water, cost.Finish:
		return true
	case cost.Fixings:
		_, err := p.Shop.Catalog.Fitting(l.SKU)
		return err == nil
	case cost.Soil:
		_, err := p.Shop.Catalog.Booster(l.SKU)
		return err == nil
	}
	return false
}

// mine takes what is there already, of what is bought by the pack, off a line, and returns a line of it.
func (p *Plan) mine(l *cost.Line, there map[string]int) cost.Line {
	n := min(there[l.SKU], l.Quantity)
	if n == 0 || !p.ByPack(*l) {
		return cost.Line{}
	}
	there[l.SKU] -= n
	own := *l
	own.Quantity, own.Owned, own.Price = n, true, 0
	l.Quantity -= n
	return own
}

// Style is how this project writes quantities.
func (p *Plan) Style() why.Style {
	return why.Style{System: p.Shop.Catalog.System, Lengths: p.Shop.Precision(), Currency: p.Shop.Currency()}
}

// Speech is how this project's texts are said.
func (s Shop) Speech() words.Speech {
	return words.Speech{American: s.Catalog.American, Imperial: s.Catalog.System == measure.Imperial}
}

// Names are what people called things in this project themselves; nothing says them
// otherwise.
func (p *Plan) Names() []string {
	list := []string{p.Design.Name}
	for _, b := range p.Design.Beds {
		list = append(list, b.Name)
	}
	for _, f := range p.Findings {
		list = append(list, f.KeptWhy)
	}
	for _, l := range p.Bill.Lines {
		if l.At != "" && !slices.Contains(list, l.At) {
			list = append(list, l.At)
		}
	}
	return list
}

// Say says a text of this project in the words of its region.
func (p *Plan) Say(text string) string { return p.Shop.Speech().Say(text, p.Names()...) }

// Explain writes out how something came about.
func (p *Plan) Explain(w why.Why) why.Told { return w.Told(p.Style()) }

// sawnBill puts boards on the bill that have been to the saw and are not among
// the lengths to buy any more.
func (p *Plan) sawnBill(c Cuts, counts map[string]int) {
	offers := append(p.Shop.Catalog.OffersOf(c.Profile.ID, c.Species.ID), c.Absent...)
	for _, sku := range slices.Sorted(maps.Keys(counts)) {
		n := counts[sku]
		i := slices.IndexFunc(offers, func(o catalog.Offer) bool { return o.SKU == sku })
		if i < 0 && n > 0 && !Owned(sku) { // of a shop that is gone to no more: as the region has it
			if region, err := catalog.ForRegion(p.Design.Region); err == nil {
				offers = append(offers, region.OffersOf(c.Profile.ID, c.Species.ID)...)
				i = slices.IndexFunc(offers, func(o catalog.Offer) bool { return o.SKU == catalog.Base(sku) })
			}
		}
		if i < 0 || n < 1 {
			continue
		}
		o := offers[i]
		_, own := p.Design.Prices[sku]
		p.Bill.Add(
			cost.Line{
				Group:    cost.Timber,
				SKU:      sku,
				Item:     c.itemOf(o, p.Shop.Catalog),
				Quantity: n,
				Unit:     "board",
				Price:    p.price(sku, o.Price),
				Own:      own,
				Why:      "they have been to the saw already",
			},
		)
		delete(counts, sku)
	}
}

// layOut puts the beds on their plot.
func (p *Plan) layOut() {
	plot := p.Design.PlotOr(p.Shop.Catalog)
	p.Site = site.Arrange(p.Design.Beds, p.Frames, plot, p.Design.Plot != nil, p.Shop.Catalog.Passages[plot.Passage])
}

// pathArea is the ground between the beds of a plot that is decided, where it is covered.
func (p *Plan) pathArea() measure.Area {
	if p.Design.GroundOr().Paths != "chips" || p.Design.Plot == nil {
		return 0
	}
	if p.Site.Stands == nil {
		p.layOut()
	}
	area := measure.Over(p.Site.Plot.Width, p.Site.Plot.Depth)
	for _, s := range p.Site.Stands {
		area -= measure.Over(s.Hi.U-s.Lo.U, s.Hi.V-s.Lo.V)
	}
	return max(0, area)
}

// edge is how long the edging of covered paths is: round the plot where no fence stands.
func (p *Plan) edge() (long measure.Length) {
	if p.Design.GroundOr().Edging != "strip" || p.Design.Plot == nil {
		return 0
	}
	for _, side := range design.Edges {
		if slices.Contains(p.Design.Plot.Fences, side) {
			continue
		}
		if side == "left" || side == "right" {
			long += p.Design.Plot.Depth
		} else {
			long += p.Design.Plot.Width
		}
	}
	return long
}

// lacked is what the shop and the shed have no board for.
func (p *Plan) lacked() []cutting.Unmet {
	var unmet []cutting.Unmet
	for _, c := range p.Cuts {
		unmet = append(unmet, c.Answer.Unmet...)
	}
	return unmet
}

// look has a second look at every bed, and follows its loads; unmet is what cannot be had.
func (p *Plan) look(unmet []cutting.Unmet) {
	p.draft = fixing.DraftOf(p.Frames, p.Shop.Catalog, p.Shop.Habits)
	for i, bed := range p.Design.Beds {
		links := strength.Walk(
			strength.Input{Frame: &p.Frames[i], Catalog: p.Shop.Catalog, Fixed: p.Fixings.ByJoint, On: bed.On},
		)
		p.Links = append(p.Links, links...)
		found := review.Look(review.Input{Bed: bed, Frame: &p.Frames[i], Site: &p.Site, Links: links,
			Formations: p.Formations, Survey: p.Survey, Walks: p.Walks,
			Even:    p.Design.GroundOr().Even == "even",
			Water:   p.Water,
			Catalog: p.Shop.Catalog, Habits: p.Shop.Habits, Unmet: unmet, Missing: p.Fixings.MissingOf(bed.ID),
			Fixed: p.Fixings.ByJoint, Needs: p.Fixings.Needs, First: i == 0,
			Patches: p.patches(i), Crops: p.Crops, South: p.Light().Place.Lat < 0})
		p.vet(i, found)
		p.Findings = append(p.Findings, found...)
	}
}

// lower starts a name with a small letter where it stands inside a phrase.
func lower(s string) string {
	if s != "" && s[0] >= 'A' && s[0] <= 'Z' && (len(s) < 2 || s[1] < 'A' || s[1] > 'Z') {
		return string(s[0]+'a'-'A') + s[1:]
	}
	return s
}
