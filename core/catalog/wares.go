package catalog

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// Ware is one thing as it is sold: a board of one length, a block, a box of screws, a bag.
type Ware struct {
	SKU, Name, Unit string
	Of              string         // wares that may stand in for one another have it in common
	Price           money.Amount   // the catalogue's, before tax
	Long            measure.Length // of a board or a roll
	Nominal         float64        // board feet in it, by the size it is called; 0 where it is called none
	Area            measure.Area   // of a board's face or a roll
	Volume          measure.Volume // of a board, a bag, a tin
	Liquid          bool           // its volume is told in litres or gallons
	Count           int            // of screws in a box
	Mass            float64        // kg of a bag or a ton; 0 where nobody knows
}

// Wares are everything that is sold, in the order of a day's round. What a project has of its own is not among them.
func (c *Catalog) Wares() (list []Ware) {
	for _, o := range c.Offers {
		p, err := c.Profile(o.Profile)
		s, err2 := c.SpeciesOf(o.Species)
		if err != nil || err2 != nil {
			continue
		}
		list = append(list, Ware{SKU: o.SKU, Name: p.Name + ", " + s.Name + ", " + o.Label, Unit: "board",
			Of: "timber/" + o.Profile + "/" + o.Species, Price: o.Price, Long: o.Length,
			Nominal: boardFeet(o.Profile, o.Length), Area: measure.Over(o.Length, p.Width),
			Volume: measure.Over(o.Length, p.Width).By(p.Thickness)})
	}
	for _, u := range c.Units {
		if u.Kind != CastWall {
			list = append(list, Ware{SKU: u.ID, Name: u.Name, Unit: "piece", Of: u.ID, Price: u.Price,
				Area: measure.Over(u.Length, u.Height), Mass: u.Mass})
		}
	}
	for _, l := range c.Loose {
		list = append(list, Ware{SKU: l.ID, Name: l.Name, Unit: l.Pack, Of: l.ID, Price: l.Price, Volume: l.Volume,
			Mass: l.Mass})
	}
	for _, f := range c.Fixings {
		for _, k := range f.Packs {
			list = append(list, Ware{SKU: k.SKU, Name: f.Name, Unit: fmt.Sprintf("box of %d", k.Count),
				Of: "fixing/" + f.ID, Price: k.Price, Count: k.Count})
		}
	}
	for _, f := range c.Fittings {
		w := Ware{SKU: f.ID, Name: f.Name, Unit: "piece", Of: f.ID, Price: f.Price, Long: f.Each}
		if f.Pack > 1 {
			w.Unit, w.Count = fmt.Sprintf("pack of %d", f.Pack), f.Pack
		}
		list = append(list, w)
	}
	for _, s := range c.Sheets {
		list = append(list, Ware{SKU: s.ID, Name: s.Name, Unit: "roll", Of: s.ID, Price: s.Price, Long: s.RollLength,
			Area: measure.Over(s.RollLength, s.RollWidth)})
	}
	for _, f := range c.Fills {
		unit := f.PackLabel
		if f.Kind == Bag {
			unit = "bag"
		}
		list = append(list, Ware{SKU: f.ID, Name: f.Name, Unit: unit, Of: "fill/" + f.Of, Price: f.Price,
			Volume: f.Pack})
		if f.Delivery > 0 {
			list = append(list, Ware{SKU: f.ID + Delivery, Name: f.Name + ", delivery", Unit: "load", Of: f.ID + Delivery,
				Price: f.Delivery})
		}
	}
	for _, f := range c.Finishes {
		list = append(list, Ware{SKU: f.ID, Name: f.Name, Unit: "tin", Of: "finish/" + f.Of, Price: f.Price, Volume: f.Tin,
			Liquid: true})
	}
	for _, b := range c.Boosters {
		list = append(list, Ware{SKU: b.ID, Name: b.Name, Unit: "bag", Of: b.ID, Price: b.Price})
	}
	return list
}

// Ware is a thing that is sold, by its number.
func (c *Catalog) Ware(sku string) (Ware, bool) {
	list := c.Wares()
	i := slices.IndexFunc(list, func(w Ware) bool { return w.SKU == sku })
	if i < 0 {
		return Ware{}, false
	}
	return list[i], true
}

// boardFeet are those of a board that is called by inches, such as 2x6: a foot by a foot by an inch, by what it is
// called and not by what it measures (common practice of the American trade).
func boardFeet(profile string, long measure.Length) float64 {
	thick, wide, ok := strings.Cut(profile, "x")
	t, err := strconv.ParseFloat(thick, 64)
	w, err2 := strconv.ParseFloat(wide, 64)
	if !ok || err != nil || err2 != nil || t > 12 || w > 24 {
		return 0
	}
	return t * w / 12 * float64(long) / float64(measure.Foot)
}

// Rate is a price for so much of a thing.
type Rate struct {
	Price money.Amount
	Of    string // "foot", "board foot", "m²"
}

// Rates are what a price of one comes to by the measures that such things are compared by, in a system's units.
func (w Ware) Rates(price money.Amount, sys measure.System) (list []Rate) {
	add := func(much float64, of string) {
		if much > 0 {
			list = append(list, Rate{price.Per(much), of})
		}
	}
	imperial := sys == measure.Imperial
	if imperial {
		add(float64(w.Long)/float64(measure.Foot), "foot")
		add(w.Nominal, "board foot")
		add(w.Area.SquareFeet(), "square foot")
	} else {
		add(w.Long.Metres(), "metre")
		add(w.Area.SquareMetres(), "m²")
	}
	switch {
	case w.Liquid && imperial:
		add(w.Volume.Litres()/3.785411784, "gallon")
	case w.Liquid:
		add(w.Volume.Litres(), "litre")
	case imperial && w.Long == 0:
		add(w.Volume.CubicFeet(), "cubic foot")
		add(w.Volume.CubicYards(), "cubic yard")
	case !imperial:
		add(w.Volume.CubicMetres(), "m³")
		if w.Long == 0 {
			add(w.Volume.Litres(), "litre")
		}
	}
	if w.Count > 1 {
		if w.Long == 0 {
			add(float64(w.Count), "one of them")
		}
	}
	return list
}
