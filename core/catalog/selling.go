package catalog

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"chamfer/core/money"
)

// Sale is what one shop asks for a thing, before tax, and how many it has.
type Sale struct {
	Price money.Amount
	At    string // the shop
	Left  int    // that it has; Plenty where nobody said
	// Brought is said of a shop that brings what is bought there.
	Brought bool
}

// Plenty is Left where a shop has as many as anyone wants.
const Plenty = -1

// Nowhere is what is said of a thing that no shop that is gone to has.
const Nowhere = "nowhere"

// Elsewhere stands between the number of a thing and the shop, where more than one sells it.
const Elsewhere = "@"

// From stands between the length of a board and its shop, where more than one sells it.
const From = " from "

// Base is a thing's own number, whichever shop it is from.
func Base(sku string) string {
	base, _, _ := strings.Cut(sku, Elsewhere)
	return base
}

// at and by stand between a price and its shop.
const at, by = "at ", "brought by "

// String writes a sale as [ReadSales] reads it: "10.90 at Lowfield Yard, 12 left", "11.40 brought by Hill Stores".
func (s Sale) String() string {
	text := s.Price.String() + " " + at + s.At
	if s.Brought {
		text = s.Price.String() + " " + by + s.At
	}
	if s.Left >= 0 {
		text += fmt.Sprintf(", %d left", s.Left)
	}
	return text
}

// WriteSales writes what several shops ask for one thing; "nowhere" where none sells it.
func WriteSales(list []Sale) string {
	if len(list) == 0 {
		return Nowhere
	}
	var parts []string
	for _, s := range list {
		parts = append(parts, s.String())
	}
	return strings.Join(parts, "; ")
}

// ReadSales reads what shops ask for one thing, the cheapest first whatever the order it is written in.
func ReadSales(text string) ([]Sale, error) {
	if strings.TrimSpace(text) == Nowhere {
		return nil, nil
	}
	var list []Sale
	for part := range strings.SplitSeq(text, ";") {
		price, shop, _ := strings.Cut(strings.TrimSpace(part), " ")
		s := Sale{Left: Plenty}
		shop, ok := strings.CutPrefix(shop, at)
		if !ok {
			shop, ok = strings.CutPrefix(shop, by)
			s.Brought = true
		}
		s.At = strings.TrimSpace(shop)
		if head, tail, has := cutLast(s.At, ","); has {
			if n, is := strings.CutSuffix(strings.TrimSpace(tail), " left"); is {
				left, err := strconv.Atoi(n)
				if err != nil || left < 0 || left > MostLeft {
					return nil, fmt.Errorf("%q is no number of things; 0 to %d works", n, MostLeft)
				}
				s.At, s.Left = strings.TrimSpace(head), left
			}
		}
		if !ok || s.At == "" {
			return nil, fmt.Errorf("%q is no price at a shop; 10.90 at Lowfield Yard works", strings.TrimSpace(part))
		}
		var err error
		if s.Price, err = money.Parse(price); err != nil {
			return nil, err
		}
		if s.Price < 0 || s.Price > money.Max {
			return nil, fmt.Errorf("%s is no price: from 0 to %s works", s.Price, money.Max)
		}
		if slices.ContainsFunc(list, func(o Sale) bool { return o.At == s.At }) {
			return nil, fmt.Errorf("%s is named twice", s.At)
		}
		list = append(list, s)
	}
	slices.SortStableFunc(list, func(a, b Sale) int { return int(min(1, max(-1, a.Price-b.Price))) })
	return list, nil
}

// MostLeft is as many of one thing as a shop is believed to have.
const MostLeft = 100_000

func cutLast(text, at string) (before, after string, found bool) {
	i := strings.LastIndex(text, at)
	if i < 0 {
		return text, "", false
	}
	return text[:i], text[i+len(at):], true
}

// SellsAs reports whether the catalogue sells as these texts tell, by number.
func (c *Catalog) SellsAs(told map[string]string) bool { return maps.Equal(c.told, told) }

// SaleOf is where a thing of the catalogue is bought, where a shop was chosen.
func (c *Catalog) SaleOf(sku string) (Sale, bool) {
	s, ok := c.sales[sku]
	return s, ok
}

// Selling is the catalogue as the shops that are gone to sell: what they ask in place of its prices, by number. A
// length of board that several sell stands in it once for each, for each may have only so many; of anything else the
// cheapest counts. What none of them sells is not in it where something else may do: lengths of boards, packs, ways a
// material comes.
//
// Told are the texts that the sales were read from, for [Catalog.SellsAs].
func (c *Catalog) Selling(sales map[string][]Sale, told map[string]string) *Catalog {
	if c.listed != nil {
		c = c.listed
	}
	if len(sales) == 0 {
		return c
	}
	own := *c
	own.listed, own.sales, own.told = c, map[string]Sale{}, maps.Clone(told)
	own.Offers = make([]Offer, 0, len(c.Offers))
	for _, o := range c.Offers {
		list, told := sales[o.SKU]
		if !told {
			own.Offers = append(own.Offers, o)
			continue
		}
		for _, s := range list {
			at := o
			at.Price, at.Left, at.Limited, at.Brought = s.Price, s.Left, s.Left >= 0, s.Brought
			if len(list) > 1 { // whichever is the cheaper, it is called by its shop
				at.SKU += Elsewhere + Slug(s.At)
				at.Label += From + s.At
			}
			own.sales[at.SKU] = s
			own.Offers = append(own.Offers, at)
		}
	}
	// set takes one thing's price from the cheapest shop, and tells whether none sells it.
	set := func(sku string, price *money.Amount) (none bool) {
		list, told := sales[sku]
		if len(list) > 0 {
			*price, own.sales[sku] = list[0].Price, list[0]
		}
		return told && len(list) == 0
	}
	own.Fixings = nil
	for _, f := range c.Fixings {
		f.Packs = slices.DeleteFunc(slices.Clone(f.Packs), func(p Pack) bool { return set(p.SKU, &p.Price) })
		for i := range f.Packs {
			set(f.Packs[i].SKU, &f.Packs[i].Price)
		}
		if len(f.Packs) > 0 {
			own.Fixings = append(own.Fixings, f)
		}
	}
	own.Fills = slices.Clone(c.Fills)
	for i := range own.Fills {
		f := &own.Fills[i]
		f.Absent = set(f.ID, &f.Price)
		from, chosen := own.sales[f.ID]
		for _, s := range sales[f.ID+Delivery] { // who sells it brings it
			if chosen && s.At == from.At {
				f.Delivery, own.sales[f.ID+Delivery] = s.Price, s
			}
		}
	}
	own.Sheets, own.Fittings, own.Units = slices.Clone(c.Sheets), slices.Clone(c.Fittings), slices.Clone(c.Units)
	own.Loose, own.Finishes = slices.Clone(c.Loose), slices.Clone(c.Finishes)
	own.Boosters = slices.Clone(c.Boosters)
	for i := range own.Sheets {
		set(own.Sheets[i].ID, &own.Sheets[i].Price)
	}
	for i := range own.Fittings {
		set(own.Fittings[i].ID, &own.Fittings[i].Price)
	}
	for i := range own.Units {
		set(own.Units[i].ID, &own.Units[i].Price)
	}
	for i := range own.Loose {
		set(own.Loose[i].ID, &own.Loose[i].Price)
	}
	for i := range own.Finishes {
		set(own.Finishes[i].ID, &own.Finishes[i].Price)
	}
	for i := range own.Boosters {
		set(own.Boosters[i].ID, &own.Boosters[i].Price)
	}
	return &own
}
