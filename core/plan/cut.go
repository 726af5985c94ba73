package plan

import (
	"cmp"
	"errors"
	"fmt"
	"hash/fnv"
	"slices"
	"strconv"
	"strings"

	"chamfer/core/aside"
	"chamfer/core/catalog"
	"chamfer/core/cutting"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
)

// Cuts is the cutting of one profile in one timber.
type Cuts struct {
	Profile catalog.Profile
	Species catalog.Species
	Offers  []catalog.Offer // what Request's stock was made of, in its order
	Request cutting.Request
	Answer  cutting.Answer
	Sawn    []int           // of the design's boards that have been to the saw, those of this kind
	Absent  []catalog.Offer // lengths that are not to be had today
}

// What stock that is not bought is called, before its number.
const (
	ShedStock  = "shed/" // in the shed
	HandStock  = "hand/" // left of a board that is being cut
	PieceStock = "cut/"  // cut, and no longer wanted as it is
)

// Owned reports whether stock need not be bought.
func Owned(sku string) bool {
	return strings.HasPrefix(sku, ShedStock) || strings.HasPrefix(sku, HandStock) || strings.HasPrefix(sku, PieceStock)
}

// The search for the cheapest boards of each profile: a plan that is shown is
// proved within its effort but for the rarest jobs, at a tenth of a second; the
// dozens that an edit only asks the price of are given what finds a plan as good
// nearly always, and is not always enough to prove it.
const (
	shownEffort = 60_000_000
	askedEffort = 1_200_000
)

// timber is one profile in one species.
type timberKind struct{ profile, species string }

// cut plans every profile of every timber on its own: what has been cut already
// is there, what is owned goes before what is bought, and of what is bought only
// lengths that fit the car, unless a piece is longer than the car. What is cut
// just as in the plan it starts from is taken from there, and other boards are
// looked for from how they are cut there.
func (p *Plan) cut(from *Plan) error {
	var order []timberKind
	pieces := map[timberKind][]cutting.Piece{}
	longest := map[timberKind]measure.Length{}
	clean := map[timberKind]bool{} // some piece may not keep a dog ear
	for _, f := range p.Frames {
		for _, part := range f.Parts {
			k := timberKind{part.Profile, part.Species}
			if _, ok := pieces[k]; !ok {
				order = append(order, k)
			}
			longest[k] = max(longest[k], part.CutLength())
			pieces[k] = addPiece(pieces[k], part, f.Times, profileWidth(p.Shop.Catalog, part.Profile))
			clean[k] = clean[k] || !part.Eared
		}
	}
	free := p.Shop.Habits.ShopFree
	var later []int // kinds that are cut without the shop, side by side
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
		effort := cmp.Or(p.Shop.effort, shownEffort) * mostKinds / int64(max(mostKinds, len(order)))
		c.Request = cutting.Request{Kerf: p.Shop.Habits.Kerf, Aims: aims(p.Shop.Habits.After), Effort: effort}
		if p.Shop.effort > 0 {
			c.Request.Aims = []cutting.Aim{} // nothing but the price is asked
		}
		p.owned(&c, k)
		c.Request.Pieces = p.stillToCut(&c, pieces[k])
		c.longestOwned()
		for _, o := range p.Shop.Catalog.OffersOf(k.profile, k.species) {
			if o.Length > p.Shop.Habits.Carry && longest[k] <= p.Shop.Habits.Carry && !o.Brought {
				if !p.Shop.Habits.ShopCuts {
					continue
				}
				c.Request.Shop = p.Shop.shopSaw(free)
			}
			if slices.Contains(p.Design.Without, o.SKU) {
				c.Absent = append(c.Absent, o)
				continue
			}
			there := cutting.Unlimited
			if o.Limited {
				there = o.Left
				for _, s := range p.Design.Saw { // those that were bought of it
					if s.SKU == o.SKU && there > 0 {
						there--
					}
				}
			}
			c.stock(o, cutting.Stock{TrimEnd: ear, Price: p.price(o.SKU, o.Price), Quantity: there, Shelf: o.Limited,
				Brought: o.Brought})
		}
		c.wideOnes()
		if err := p.tooMany(k, c.Profile.Name, c.Request); err != nil {
			return err
		}
		if c.Request.Shop != nil ||
			from != nil { // the next may use what is left of free cuts; what-ifs are many already
			if err := p.solve(&c, from); err != nil {
				return err
			}
			free = max(0, free-c.Answer.ShopCuts)
		} else {
			later = append(later, len(p.Cuts))
		}
		p.Cuts = append(p.Cuts, c)
	}
	errs := make([]error, len(later))
	for _, fault := range aside.Do(len(later), func(i int) { errs[i] = p.solve(&p.Cuts[later[i]], from) }) {
		if fault != nil {
			return fault
		}
	}
	return errors.Join(errs...)
}

// solve answers a kind's request.
func (p *Plan) solve(c *Cuts, from *Plan) error {
	if len(c.Request.Pieces) == 0 {
		c.Answer.Proved = true // all of it is cut
		return nil
	}
	if from != nil {
		same := func(b Cuts) bool { return b.Profile.ID == c.Profile.ID && b.Species.ID == c.Species.ID }
		if i := slices.IndexFunc(from.Cuts, same); i >= 0 {
			before := from.Cuts[i]
			if a, ok := before.Answer.As(before.Request, c.Request); ok {
				c.Answer = a
				return nil
			}
			c.Request.Like = before.Answer.Boards
		}
	}
	var err error
	if from == nil {
		c.Request.Like = p.Shop.foundFor(c.Request.Stock)
	}
	c.Answer, err = p.Shop.Cut.Solve(c.Request)
	if bad := (*cutting.BadRequest)(nil); errors.As(err, &bad) { // a kerf wider than a piece is long, say
		return &design.Refusal{Field: "beds", Reason: fmt.Sprintf("%s cannot be cut: %s", c.Profile.Name, bad.Fault)}
	}
	return err
}

// foundFor is a plan to start from, of a search elsewhere for boards of this stock. The
// cutter takes of it only what fits the request.
func (s Shop) foundFor(stock []cutting.Stock) []cutting.Board {
	for _, f := range s.Found {
		for _, b := range f.Answer.Boards {
			if slices.ContainsFunc(stock, func(o cutting.Stock) bool { return o.ID == b.Stock.ID }) {
				return f.Answer.Boards
			}
		}
	}
	return nil
}

// aims puts what is looked for first before the cutter's others.
func aims(first string) []cutting.Aim {
	switch first {
	case "":
		return nil
	case "nothing":
		return []cutting.Aim{}
	}
	list := []cutting.Aim{cutting.Aim(first)}
	for _, a := range cutting.UsualAims {
		if a != list[0] {
			list = append(list, a)
		}
	}
	return list
}

// shopSaw is the shop's with so many free cuts left of the visit, and with what the workshop knows
// of it; boards lose 1/8 in
// (3 mm) and as much again where nobody says (common practice).
func (s Shop) shopSaw(free int) *cutting.ShopSaw {
	h := s.Habits
	return &cutting.ShopSaw{Carry: h.Carry, Fee: h.ShopFee, Free: free, Loss: cmp.Or(h.ShopLoss, measure.Inch/4)}
}

// stock adds a length that can be had, under its offer's name.
func (c *Cuts) stock(o catalog.Offer, s cutting.Stock) {
	s.ID, s.Profile, s.Length, s.Width = o.SKU, c.Profile.ID, o.Length, cmp.Or(s.Width, c.Profile.Width)
	c.Offers = append(c.Offers, o)
	c.Request.Stock = append(c.Request.Stock, s)
}

// owned adds what need not be bought: what is left of boards that are being cut,
// and what the shed holds of this kind.
func (p *Plan) owned(c *Cuts, k timberKind) {
	taken := map[string]int{} // from the shed
	for i, s := range p.Design.Saw {
		taken[s.SKU]++
		if s.Profile != k.profile || s.Species != k.species {
			continue
		}
		c.Sawn = append(c.Sawn, i)
		if s.Left > 0 {
			c.stock(
				catalog.Offer{
					SKU:    fmt.Sprintf("%s%d", HandStock, i),
					Length: s.Left,
					Label:  "left of board " + fmt.Sprint(i+1),
				},
				cutting.Stock{Quantity: 1},
			)
		}
	}
	for _, l := range p.Shop.Shed {
		id := fmt.Sprintf("%s%d", ShedStock, l.ID)
		if l.Profile != k.profile || l.Species != k.species || l.Quantity <= taken[id] {
			continue
		}
		o := cutting.Stock{Quantity: l.Quantity - taken[id], TrimStart: l.TrimStart, TrimEnd: l.TrimEnd, Width: l.Width}
		if l.BadTo > 0 {
			o.Defects = []cutting.Span{{From: l.BadFrom, To: l.BadTo}}
		}
		c.stock(catalog.Offer{SKU: id, Length: l.Length, Label: p.Shop.sizeOf(l) + " from the shed"}, o)
	}
}

// mostOwned is how many kinds of owned boards are planned with.
const mostOwned = 400

// longestOwned keeps of very many kinds of owned boards the longest.
func (c *Cuts) longestOwned() {
	if len(c.Offers) <= mostOwned {
		return
	}
	order := make([]int, len(c.Offers))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(c.Offers[b].Length, c.Offers[a].Length) })
	order = order[:mostOwned]
	slices.Sort(order)
	offers, stock := c.Offers, c.Request.Stock
	c.Offers, c.Request.Stock = nil, nil
	for _, i := range order {
		c.Offers, c.Request.Stock = append(c.Offers, offers[i]), append(c.Request.Stock, stock[i])
	}
}

// sizeOf writes how long a leftover is, and how wide where that is not as its
// board.
func (s Shop) sizeOf(l catalog.Leftover) string {
	if l.Width > 0 {
		return s.Precision().Feet(l.Length) + " × " + s.Precision().Short(l.Width)
	}
	return s.Precision().Feet(l.Length)
}

// wideOnes says of every piece how wide it is, where there are strips among the
// stock: what is as wide as its board does not come out of them.
func (c *Cuts) wideOnes() {
	if !slices.ContainsFunc(c.Request.Stock, func(s cutting.Stock) bool { return s.Width < c.Profile.Width }) {
		return
	}
	for i, q := range c.Request.Pieces {
		c.Request.Pieces[i].Width = cmp.Or(q.Width, c.Profile.Width)
	}
}

// ripped is a cut's width where that is not its board's.
func (c *Cuts) ripped(width measure.Length) measure.Length {
	if width == c.Profile.Width {
		return 0
	}
	return width
}

// stillToCut takes from the pieces what has been cut. What has been cut and is
// wanted no more, since the design has changed, is stock.
func (p *Plan) stillToCut(c *Cuts, pieces []cutting.Piece) []cutting.Piece {
	left := slices.Clone(pieces)
	for _, i := range c.Sawn {
		for n, cut := range p.Design.Saw[i].Cuts {
			if cut.Waste {
				continue
			}
			for range cut.Times() {
				k := slices.IndexFunc(left, func(q cutting.Piece) bool {
					return q.Length == cut.Length && q.Width == c.ripped(cut.Width) && q.Quantity > 0
				})
				if k >= 0 {
					left[k].Quantity--
				} else if c.ripped(cut.Width) == 0 {
					c.stock(catalog.Offer{SKU: fmt.Sprintf("%s%d.%d", PieceStock, i, n), Length: cut.Length,
						Label: "a piece cut before"}, cutting.Stock{Quantity: 1})
				}
			}
		}
	}
	return slices.DeleteFunc(left, func(q cutting.Piece) bool { return q.Quantity == 0 })
}

// itemOf is what a board is called on a bill, which says itself where it is bought.
func (c Cuts) itemOf(o catalog.Offer, cat *catalog.Catalog) string {
	if s, ok := cat.SaleOf(o.SKU); ok {
		o.Label = strings.TrimSuffix(o.Label, catalog.From+s.At)
	}
	return fmt.Sprintf("%s, %s, %s", c.Profile.Name, lower(c.Species.Name), o.Label)
}

// Stamp tells ways to cut a kind apart: a page that shows another is not to say which
// of these boards is cut.
func (c Cuts) Stamp() string {
	h := fnv.New32a()
	fmt.Fprint(h, c.Answer.Boards)
	return strconv.FormatUint(uint64(h.Sum32()), 36)
}

// Bought counts the boards of each length that are bought, those that have been
// to the saw among them.
func (c Cuts) Bought(saw []design.Sawn) map[string]int {
	n := c.Answer.Bought()
	for _, i := range c.Sawn {
		n[saw[i].SKU]++
	}
	return n
}

func addPiece(list []cutting.Piece, part frame.Part, times int, wide measure.Length) []cutting.Piece {
	for i := range list {
		if list[i].ID == part.Letter {
			list[i].Quantity += times
			return list
		}
	}
	q := cutting.Piece{ID: part.Letter, Profile: part.Profile, Length: part.CutLength(), Quantity: times}
	if part.Width < wide {
		q.Width = part.Width
	}
	return append(list, q)
}

// profileWidth is a board's width, 0 where it is not known.
func profileWidth(cat *catalog.Catalog, id string) measure.Length {
	p, err := cat.Profile(id)
	if err != nil {
		return 0
	}
	return p.Width
}

// Other is another way to buy the boards of a kind, and what it would change.
type Other struct {
	Words   string
	More    money.Amount
	Boards  int      // more, or fewer
	Without []string // SKUs that it does without
}

// mostOthers is how many of the shop's other ways are told.
const mostOthers = 8

// Others are the shop's next best: without one of the lengths that are bought, or
// all of one length, chosen or not; the cheapest first.
func (p *Plan) Others(c Cuts) []Other {
	var list []Other
	bought := c.Answer.Bought()
	try := func(words string, keep func(catalog.Offer) bool) {
		r := c.Request
		r.Effort, r.Stock, r.Like = askedEffort, nil, c.Answer.Boards
		var without []string
		for i, o := range c.Offers {
			if Owned(o.SKU) || keep(o) {
				r.Stock = append(r.Stock, c.Request.Stock[i])
			} else {
				without = append(without, o.SKU)
			}
		}
		a, err := p.Shop.Cut.Solve(r)
		if err != nil || len(a.Unmet) > len(c.Answer.Unmet) || len(without) == 0 {
			return
		}
		o := Other{Words: words, More: a.Cost - c.Answer.Cost, Boards: a.Count() - c.Answer.Count(), Without: without}
		if !slices.ContainsFunc(list, func(b Other) bool { return b.More == o.More && b.Boards == o.Boards }) {
			list = append(list, o)
		}
	}
	shop := 0
	for _, o := range c.Offers {
		if !Owned(o.SKU) {
			shop++
		}
	}
	if shop < 2 || len(c.Request.Pieces) == 0 {
		return nil
	}
	for _, o := range c.Offers {
		if Owned(o.SKU) {
			continue
		}
		if bought[o.SKU] > 0 {
			try("without "+o.Label, func(b catalog.Offer) bool { return b.SKU != o.SKU })
		}
		try("all of "+o.Label, func(b catalog.Offer) bool { return b.SKU == o.SKU })
	}
	slices.SortStableFunc(
		list,
		func(a, b Other) int { return cmp.Or(cmp.Compare(a.More, b.More), cmp.Compare(a.Boards, b.Boards)) },
	)
	list = slices.DeleteFunc(list, func(o Other) bool { return o.More == 0 && o.Boards == 0 })
	return list[:min(mostOthers, len(list))]
}
