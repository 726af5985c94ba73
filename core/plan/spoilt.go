package plan

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/cutting"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/money"
)

// Spoilt is the edit that takes down that one piece of a letter is spoilt since it was cut. All boards of its kind that
// the plan still has at the saw have been cut by then, as they were planned: what is planned anew is one more piece,
// from what they left or from a board that is bought.
func (p *Plan) Spoilt(letter string) (design.Edit, error) {
	part, ok := p.lettered(letter)
	if !ok {
		return design.Edit{}, fmt.Errorf("there is no piece %q", letter)
	}
	for _, c := range p.Cuts {
		if c.Profile.ID != part.Profile || c.Species.ID != part.Species {
			continue
		}
		list, err := c.spoilt(letter, part, p.Design.Saw)
		if err != nil {
			return design.Edit{}, err
		}
		raw, err := json.Marshal(list)
		return design.Edit{Field: "saw", Value: string(raw)}, err
	}
	return design.Edit{}, fmt.Errorf("piece %q is cut from no board", letter)
}

func (p *Plan) lettered(letter string) (frame.Part, bool) {
	for i := range p.Frames {
		for _, part := range p.Frames[i].Parts {
			if part.Letter == letter {
				return part, true
			}
		}
	}
	return frame.Part{}, false
}

// spoilt is a piece of those that have been cut, or, where nobody said that any was, one of those that are planned.
func (c Cuts) spoilt(letter string, part frame.Part, saw []design.Sawn) (list []design.SawEntry, err error) {
	for _, i := range c.Sawn {
		for k, cut := range saw[i].Cuts {
			if !cut.Waste && cut.Length == part.CutLength() && c.ripped(cut.Width) == c.ripped(part.Width) {
				return []design.SawEntry{{At: &i, Spoilt: &k}}, nil
			}
		}
	}
	found := false
	for _, b := range c.Answer.Boards {
		k := slices.IndexFunc(b.Cuts, func(cut cutting.Cut) bool { return cut.Piece == letter })
		e := c.sawn(b, len(b.Cuts), Cut)
		for range b.Count {
			one := e
			if k >= 0 && !found {
				found, one.Cuts = true, design.Spoil(e.Cuts, k)
			}
			list = append(list, one)
		}
	}
	if !found {
		return nil, fmt.Errorf("no piece %q has been cut from a board of its own", letter)
	}
	return list, nil
}

// Instead is what changed on a bill from one plan to the next: what is to be bought more or less of, and what that
// comes to with tax.
func (p *Plan) Instead(before *Plan) (list []cost.Change, more money.Amount) {
	return p.Bill.Since(before.Bill), p.Bill.Total - before.Bill.Total
}

// Can reports whether a plan has everything that one before had: nothing more is lacking.
func (p *Plan) Can(before *Plan) bool { return len(p.Bill.Without) <= len(before.Bill.Without) }

// NameOf is what something that is sold is called; its number where nobody knows.
func (p *Plan) NameOf(sku string) string {
	for _, l := range p.Bill.Lines {
		if l.SKU == sku {
			return l.Item
		}
	}
	cat := p.Shop.Catalog
	for _, o := range cat.Offers {
		if o.SKU == sku {
			profile, err1 := cat.Profile(o.Profile)
			wood, err2 := cat.SpeciesOf(o.Species)
			if err1 == nil && err2 == nil {
				return fmt.Sprintf("%s, %s, %s", profile.Name, lower(wood.Name), o.Label)
			}
		}
	}
	regions, err := catalog.ForRegion(p.Design.Region) // what is lacking today is in no list of the plan's
	if err != nil {
		return sku
	}
	for _, f := range regions.Fixings {
		for _, k := range f.Packs {
			if k.SKU == sku {
				return f.Name
			}
		}
	}
	for _, f := range regions.Fills {
		if f.ID == sku {
			return f.Name
		}
	}
	return sku
}

// Again says where a piece comes from that is cut once more: from what is left of a board, or from one that is bought.
func (p *Plan) Again(letter string) string {
	for _, c := range p.Cuts {
		for _, b := range c.Answer.Boards {
			if !slices.ContainsFunc(b.Cuts, func(cut cutting.Cut) bool { return cut.Piece == letter }) {
				continue
			}
			long := p.Shop.Precision().Feet(b.Stock.Length)
			switch {
			case strings.HasPrefix(b.Stock.ID, HandStock), strings.HasPrefix(b.Stock.ID, PieceStock):
				return "from the " + long + " that is left of a " + c.Profile.Name
			case Owned(b.Stock.ID):
				return "from a " + c.Profile.Name + " of " + long + " in the shed"
			}
			return "from a " + c.Profile.Name + " of " + long + ", which has to be bought"
		}
	}
	return "from nothing that can be had"
}
