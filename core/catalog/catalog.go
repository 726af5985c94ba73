// Package catalog is the shop: what can be bought, in which sizes and lengths,
// for how much, and what is known about it. A board is called by its nominal
// name (a 2x6) and reckoned by its actual size (1 1/2 by 5 1/2 in); mixing the
// two up is the oldest mistake in the trade, so only the actual size is ever a
// number here.
//
// Everything is read from the data files embedded beside this code. Every row
// carries a source; prices are invented for the demonstration and are meant to
// be overridden by what the gardener's own shop asks.
package catalog

import (
	"embed"
	"errors"
	"fmt"
	"iter"
	"slices"
	"strconv"
	"strings"
	"sync"

	"chamfer/core/measure"
	"chamfer/core/money"
)

//go:embed data
var data embed.FS

// ErrNotSold is wrapped by every look-up of something the region does not sell.
var ErrNotSold = errors.New("is not sold in this region")

// Profile is a cross-section of timber under its nominal name.
type Profile struct {
	ID, Name  string
	Kind      ProfileKind
	Thickness measure.Length
	Width     measure.Length
	Ear       measure.Length // of a picket's end that is cut to a dog ear; 0 for square ends
	Actual    string         // thickness and width, for reading
	Source    string
}

// Species is a timber and what is known of it in wet soil.
type Species struct {
	ID, Name string
	Treated  bool
	LifeMin  int // years in contact with soil
	LifeMax  int
	Source   string
	Method   string  // "nds", "ec5", "apa" or "ec5-panel": which code its strength belongs to
	E        float64 // modulus of elasticity: psi (nds) or kN/mm² mean (ec5)
	Density  float64 // kg/m³, about 19 % moisture (nds) or mean (ec5)
	Gravity  float64 // specific gravity that fixings are reckoned with (nds); 0: see SpecificGravity
	Shear    float64 // strength along the grain: psi (nds) or N/mm² (ec5)
	Crush    float64 // strength across the grain, under what bears on it: likewise
	Bending  []Bending
}

// Bending is a species' bending strength for boards up to a width.
type Bending struct {
	WidthTo    measure.Length
	Strength   float64 // Fb in psi (nds) or f_m,k in N/mm² (ec5)
	SizeFactor float64 // CF (nds), 1 for ec5
	FlatFactor float64 // Cfu (nds), 1 for ec5
	Source     string
}

// SpecificGravity is the one that fixings are reckoned with: as listed (NDS Table
// 12.3.3A), or from the mean density at 12 % moisture (NDS Supplement 3.1.3 turned
// round: rho = 1000 G / (1 + 0.009 G MC) x (1 + MC/100), from memory).
func (s Species) SpecificGravity() float64 {
	if s.Gravity > 0 {
		return s.Gravity
	}
	return s.Density / (1120 - 0.108*s.Density)
}

// BendingFor returns the row for a board of this width.
func (s Species) BendingFor(width measure.Length) Bending {
	for _, b := range s.Bending {
		if width <= b.WidthTo {
			return b
		}
	}
	return s.Bending[len(s.Bending)-1]
}

// Offer is one length of one profile of one species, as the shop sells it.
type Offer struct {
	Profile, Species string
	Length           measure.Length
	Label            string // the length as the shop writes it: 8 ft or 2.4 m
	SKU              string // its name in price lists: "2x6/cedar/8 ft"
	Price            money.Amount
	Left             int  // boards that the shop has of it, where that is Limited
	Limited          bool // else it has plenty
	Brought          bool // the shop brings it, and it need not fit the car
	Source           string
}

// shopLength writes a length the way the shop's label does: 8 ft or 2.4 m.
func shopLength(l measure.Length) string {
	if l%measure.Foot == 0 {
		return strconv.Itoa(int(l/measure.Foot)) + " ft"
	}
	return strconv.FormatFloat(l.Metres(), 'f', 1, 64) + " m"
}

// Fixing is a screw with the packs it comes in.
type Fixing struct {
	ID, Name, Gauge        string
	Kind                   FixingKind
	Diameter, Root, Length measure.Length
	Packs                  []Pack
	Source                 string
}

// Noun is what one of it is called where it is counted.
func (f Fixing) Noun() string {
	switch f.Kind {
	case Lag:
		return "bolt"
	case Pocket:
		return "screw"
	}
	return string(f.Kind)
}

// Thread is how long its thread is: two thirds of a screw (ASME B18.6.1, from memory), of
// a lag half its length and half an inch, up to 6 in (NDS App. L, Table L2).
func (f Fixing) Thread() measure.Length {
	if f.Kind == Lag {
		return min(f.Length/2+measure.Inch/2, 6*measure.Inch)
	}
	return f.Length * 2 / 3
}

// Tip is the tapered point of a lag, which holds nothing: five eighths of its diameter
// (NDS App. L, Table L2: 5/32 in of a 1/4 in one to 5/16 of a 1/2 in one).
func (f Fixing) Tip() measure.Length {
	if f.Kind == Lag {
		return f.Diameter * 5 / 8
	}
	return 0
}

// Pack is a quantity sold together.
type Pack struct {
	SKU   string
	Count int
	Price money.Amount
}

// Fitting is something ready-made that is fixed on: by the piece, or by lengths
// of Each.
type Fitting struct {
	ID, Name string
	Each     measure.Length // one piece is this long; 0 where length does not matter
	Height   measure.Length // it lifts what stands on it by
	Load     float64        // kg one may carry; 0 where it carries nothing
	Pack     int            // so many are sold together
	Price    money.Amount
	Source   string
}

// What lies between walls and soil, by the sheet's ID.
const (
	Fabric   = "fabric"
	Membrane = "membrane"
	Trough   = "pond" // over the floor as well
)

// DrainCloth lies between drainage stone and soil: it is not woven, so that water passes (AASHTO M 288, from memory:
// woven slit film is not for drainage).
const DrainCloth = "drain-cloth"

// Sheet is cloth or card sold from a roll.
type Sheet struct {
	ID, Name                   string
	RollWidth, RollLength, Lap measure.Length
	Price                      money.Amount
	Source                     string
}

// Fill is soil by the bag or loose.
type Fill struct {
	ID, Name   string
	Of         string // the material it is
	Kind       FillKind
	Pack       measure.Volume // one bag, or the step loose soil is sold in
	Least      measure.Volume // smallest delivery
	Most       measure.Volume // that one lorry brings; 0 where it does not matter
	Price      money.Amount   // of one Pack
	Delivery   money.Amount
	WetDensity float64 // kg/m³ when wet
	Source     string
	PackLabel  string // as the data file writes it: "1.5 ft3"
	Absent     bool   // the shop has none today: see [Catalog.Lacking]
}

// Habits are the workshop's own ways, used by every plan of a region.
type Habits struct {
	Kerf             measure.Length `json:"kerf"`
	Precision        string         `json:"precision"`
	TaxBasisPoints   int            `json:"tax_basis_points"`           // hundredths of a per cent
	SettlingPerMille int            `json:"settling_per_mille"`         // extra loose soil
	Carry            measure.Length `json:"carry"`                      // longest board the car takes
	SparePerMille    int            `json:"spare_per_mille"`            // screws dropped or stripped
	SpoiltPerMille   int            `json:"spoilt_per_mille,omitempty"` // boards to spare for pieces that are spoilt
	CurrencySymbol   string         `json:"currency_symbol,omitempty"`
	// The shop parts boards that do not fit the car, so many cuts for nothing and
	// each further one for a fee; ShopLoss is what its saw takes and may be out by.
	ShopCuts bool `json:"shop_cuts,omitempty"`
	ShopFree int  `json:"shop_free,omitempty"`
	// After says what is looked for first among the cheapest ways to cut: one of
	// Afters; empty for the first of them.
	After    string         `json:"after,omitempty"`
	ShopFee  money.Amount   `json:"shop_fee,omitempty"`
	ShopLoss measure.Length `json:"shop_loss,omitempty"`
	// WallLimit is how high a wall may hold soil without an engineer where one lives; 0 is
	// what the model code says. See WallsUpTo.
	WallLimit measure.Length `json:"wall_limit,omitempty"`
	// Reach is how far whoever tends the beds reaches from one side, as it was measured; 0 is
	// as far as people usually do.
	Reach measure.Length `json:"reach,omitempty"`
	// CarKg is what the car carries besides who drives, in kilograms; 0 is what is usual, see CarMass. Trip is what one
	// there and back costs, Delivery what the shop asks to bring all of it instead; 0 where nobody said.
	CarKg float64 `json:"car_kg,omitempty"`
	// CarLitres is how much room the car has for what is bought, in litres; 0 where nobody said.
	CarLitres float64      `json:"car_litres,omitempty"`
	Trip      money.Amount `json:"trip,omitempty"`
	Delivery  money.Amount `json:"delivery,omitempty"`
}

// Catalog is all one region sells. It is not changed after loading.
type Catalog struct {
	ID           string           `json:"id"`
	Name         string           `json:"name"`
	System       measure.System   `json:"system"`
	American     bool             `json:"american"` // its texts are said in American words
	Currency     money.Currency   `json:"currency"`
	Habits       Habits           `json:"habits"`
	BarrowLitres float64          `json:"barrow_litres"`
	BarrowSource string           `json:"barrow_source"`
	Drills       []measure.Length `json:"drills"`
	Thinnest     measure.Length   `json:"thinnest"` // board that lasts
	// Reach is the widest bed that can be tended, by design.Bed.Access.
	Reach       map[string]measure.Length `json:"reach"`
	ReachSource string                    `json:"reach_source"`
	// Passages is how wide a path is at least, by who goes on it.
	Passages       map[string]measure.Length `json:"passages"`
	PassagesSource string                    `json:"passages_source"`
	ThinnestSource string                    `json:"thinnest_source"`
	Source         string                    `json:"source"`

	Profiles []Profile `json:"-"`
	Species  []Species `json:"-"`
	Offers   []Offer   `json:"-"`
	Fixings  []Fixing  `json:"-"`
	Sheets   []Sheet   `json:"-"`
	Fittings []Fitting `json:"-"`
	Units    []Unit    `json:"-"`
	Loose    []Loose   `json:"-"`

	sold      *Catalog          // where sizes are measured ones: the catalogue as it is sold
	listed    *Catalog          // where shops were chosen: the catalogue with the region's own prices
	sales     map[string]Sale   // by number, where shops were chosen
	told      map[string]string // and as they were told of
	Fills     []Fill            `json:"-"`
	Materials []Material        `json:"-"`
	Finishes  []Finish          `json:"-"`
	Boosters  []Booster         `json:"-"`
}

// Regions returns the catalogues of all regions, in the data file's order, and those of one's own that
// were added. The data ships with the program: a fault in it is a fault of the program.
func Regions() []*Catalog {
	own.RLock()
	defer own.RUnlock()
	if len(own.list) == 0 {
		return regions()
	}
	return slices.Concat(regions(), own.list)
}

var regions = sync.OnceValue(func() []*Catalog {
	list, err := load()
	if err != nil {
		panic("catalog: embedded data: " + err.Error())
	}
	return list
})

// ErrNoRegion says that a region is not known.
var ErrNoRegion = errors.New("this region is not known")

// ForRegion returns one region's catalogue.
func ForRegion(id string) (*Catalog, error) {
	for _, c := range Regions() {
		if c.ID == id {
			return c, nil
		}
	}
	var ids []string
	for _, c := range Regions() {
		ids = append(ids, c.ID)
	}
	return nil, fmt.Errorf("%q: %w; there are %s", id, ErrNoRegion, strings.Join(ids, " and "))
}

// Told is a size as the region's people would say it, in round figures of their own measure.
func (c *Catalog) Told(inches, millimetres measure.Length) measure.Length {
	if c.System == measure.Imperial {
		return inches
	}
	return millimetres
}

// Profile looks a profile up by its ID.
func (c *Catalog) Profile(id string) (Profile, error) {
	i := slices.IndexFunc(c.Profiles, func(p Profile) bool { return p.ID == id })
	if i < 0 {
		return Profile{}, fmt.Errorf("profile %q %w", id, ErrNotSold)
	}
	return c.Profiles[i], nil
}

// SpeciesOf looks a species up by its ID.
func (c *Catalog) SpeciesOf(id string) (Species, error) {
	i := slices.IndexFunc(c.Species, func(s Species) bool { return s.ID == id })
	if i < 0 {
		return Species{}, fmt.Errorf("species %q %w", id, ErrNotSold)
	}
	return c.Species[i], nil
}

// ShopCut is the number that a cut at the shop has on a bill, and Delivery what is put
// behind a fill's for its delivery.
const (
	ShopCut  = "shop cut"
	Delivery = "/delivery"
)

// Sells reports whether something on a bill of this region may have such a number.
func (c *Catalog) Sells(sku string) bool {
	return sku == ShopCut ||
		slices.ContainsFunc(c.Offers, func(o Offer) bool { return o.SKU == sku }) ||
		slices.ContainsFunc(c.Sheets, func(s Sheet) bool { return s.ID == sku }) ||
		slices.ContainsFunc(c.Fittings, func(f Fitting) bool { return f.ID == sku }) ||
		slices.ContainsFunc(c.Units, func(u Unit) bool { return u.ID == sku }) ||
		slices.ContainsFunc(c.Loose, func(l Loose) bool { return l.ID == sku }) ||
		slices.ContainsFunc(c.Fills, func(f Fill) bool { return f.ID == sku || f.ID+Delivery == sku }) ||
		slices.ContainsFunc(c.Boosters, func(b Booster) bool { return b.ID == sku }) ||
		slices.ContainsFunc(c.Finishes, func(f Finish) bool { return f.ID == sku }) ||
		slices.ContainsFunc(c.Fixings, func(f Fixing) bool {
			return slices.ContainsFunc(f.Packs, func(p Pack) bool { return p.SKU == sku })
		})
}

// OffersOf returns the lengths sold of a profile in a species, shortest first.
func (c *Catalog) OffersOf(profile, species string) []Offer {
	var found []Offer
	for _, o := range c.Offers {
		if o.Profile == profile && o.Species == species {
			found = append(found, o)
		}
	}
	return found
}

// Sold reports whether a profile comes in a species at all.
func (c *Catalog) Sold(profile, species string) bool {
	return slices.ContainsFunc(c.Offers, func(o Offer) bool { return o.Profile == profile && o.Species == species })
}

// WetDensity is what floors are checked for, in kg/m³: the heaviest soil for beds that is sold,
// wet.
func (c *Catalog) WetDensity() float64 { return c.WetOf(Mixed) }

// WetOf is the most that a material weighs wet, in kg/m³, however it is sold.
func (c *Catalog) WetOf(material string) float64 {
	most := 0.0
	for _, f := range c.FillsOf(material) {
		most = max(most, f.WetDensity)
	}
	if m, err := c.Material(material); err == nil && most == 0 {
		return m.Wet
	}
	return most
}

// Sheet looks a sheet up by its ID.
func (c *Catalog) Sheet(id string) (Sheet, error) {
	i := slices.IndexFunc(c.Sheets, func(s Sheet) bool { return s.ID == id })
	if i < 0 {
		return Sheet{}, fmt.Errorf("sheet %q %w", id, ErrNotSold)
	}
	return c.Sheets[i], nil
}

// Fitting looks a fitting up by its ID.
func (c *Catalog) Fitting(id string) (Fitting, error) {
	i := slices.IndexFunc(c.Fittings, func(f Fitting) bool { return f.ID == id })
	if i < 0 {
		return Fitting{}, fmt.Errorf("fitting %q %w", id, ErrNotSold)
	}
	return c.Fittings[i], nil
}

// Section is the width and thickness of boards as someone measured them.
type Section struct {
	Thickness measure.Length `json:"thickness"`
	Width     measure.Length `json:"width"`
}

// Sides are its two sizes by name.
func (s Section) Sides() iter.Seq2[string, measure.Length] {
	return func(yield func(string, measure.Length) bool) {
		_ = yield("thickness", s.Thickness) && yield("width", s.Width)
	}
}

// Reaching is the smallest of the fittings whose numbers begin so that is of a size at least,
// or the largest there is; size says which of its measures counts.
func (c *Catalog) Reaching(prefix string, least measure.Length, size func(Fitting) measure.Length) (Fitting, error) {
	var best Fitting
	for _, f := range c.Fittings {
		if !strings.HasPrefix(f.ID, prefix) {
			continue
		}
		fits, did := size(f) >= least, size(best) >= least
		if best.ID == "" || fits && (!did || size(f) < size(best)) || !fits && !did && size(f) > size(best) {
			best = f
		}
	}
	if best.ID == "" {
		return best, fmt.Errorf("%s %w", prefix, ErrNotSold)
	}
	return best, nil
}

// Measured returns the catalogue with the sizes of some profiles, by ID, as
// they were really measured; c itself where there are none.
func (c *Catalog) Measured(sections map[string]Section) *Catalog {
	if len(sections) == 0 {
		if c.sold != nil {
			return c.sold
		}
		return c
	}
	if c.sold != nil {
		c = c.sold
	}
	own := *c
	own.sold = c
	own.Profiles = slices.Clone(c.Profiles)
	for i := range own.Profiles {
		p := &own.Profiles[i]
		if s, ok := sections[p.ID]; ok {
			p.Thickness, p.Width, p.Source = s.Thickness, s.Width, "measured by you"
			p.Actual = own.Precision(own.Habits).Short(p.Thickness) + " × " + own.Precision(own.Habits).Short(p.Width)
		}
	}
	return &own
}

// Precision returns the printing precision of habits, or the region's own
// where the habit is not one of [measure.Precisions].
func (c *Catalog) Precision(h Habits) measure.Precision {
	if p, ok := measure.Precisions[h.Precision]; ok {
		return p
	}
	return measure.Precisions[c.Habits.Precision]
}
