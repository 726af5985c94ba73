// Package design is what the gardener decides, and nothing that follows from
// it: how much planting, how deep the soil, which boards, which corners. The
// sizes asked for are clear sizes, inside the cap or the walls, because that is
// what is planted; everything outside follows.
//
// A change is a list of [Edit]s, each a field and the text that was given for
// it. Forms, remedies, what-ifs and the command line all change a design in
// this one way.
package design

import (
	"cmp"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strconv"

	"chamfer/core/catalog"
	"chamfer/core/measure"
	"chamfer/core/money"
)

// Format is the value of the format key in a design file.
const Format = "chamfer/1"

// Limits on what one file may hold.
const (
	MaxBeds   = 50
	MaxName   = 80
	MaxPrices = 2000
)

// Design is one project.
type Design struct {
	Format string                  `json:"format"`
	Name   string                  `json:"name"`
	Note   string                  `json:"note,omitempty"` // the gardener's own, on one line
	Region string                  `json:"region"`
	Beds   []Bed                   `json:"beds"`
	Prices map[string]money.Amount `json:"prices,omitempty"` // by SKU: what this shop really asks
	// Sold is at which shops things are bought and what those ask, by the shop's number, as catalog.ReadSales reads it.
	Sold map[string]string `json:"sold,omitempty"`
	// Measured are boards, by profile, that are not the size they are sold as.
	Measured map[string]catalog.Section `json:"measured,omitempty"`
	// Units are blocks of the gardener's own, by "own-1" and on, as they were written.
	Units map[string]string `json:"units,omitempty"`
	// Timbers are timbers of the gardener's own, by "own:" and their names, as they were told of.
	Timbers map[string]string `json:"timbers,omitempty"`
	// Have are screws, blocks, and packs of what is loose or filled in that are there already,
	// by the shop's number; they are used first.
	Have map[string]int `json:"have,omitempty"`
	// Broken are blocks that broke, by the shop's number: the spares stand in for them first.
	Broken map[string]int `json:"broken,omitempty"`
	// Saw are the boards that have been cut; Without, by SKU, lengths that are not
	// to be had today.
	Saw      []Sawn    `json:"saw,omitempty"`
	Without  []string  `json:"without,omitempty"`
	Plot     *Plot     `json:"plot,omitempty"` // where the beds stand; nil: wherever there is room
	Ground   *Ground   `json:"ground,omitempty"`
	Water    *Water    `json:"water,omitempty"`
	Calendar *Calendar `json:"calendar,omitempty"` // who works when
	Sky      *Sky      `json:"sky,omitempty"`      // where on the Earth it is, its frosts, what stands round it
	// Crops are crops of the gardener's own, or known ones that were changed, by ID, as they were told of.
	Crops map[string]string `json:"crops,omitempty"`
}

// Bed is what is decided about one bed. The JSON keys are the field keys.
type Bed struct {
	ID           string         `json:"id"`
	System       string         `json:"system"`
	Name         string         `json:"name"`
	Count        int            `json:"count,omitempty"` // how many are built alike; 0 is read as 1
	Length       measure.Length `json:"length"`
	Width        measure.Length `json:"width"`
	Soil         measure.Length `json:"soil"`
	Freeboard    measure.Length `json:"freeboard"`
	Board        string         `json:"board"`
	Species      string         `json:"species"`
	Corners      string         `json:"corners"`
	Post         string         `json:"post"`
	PostBelowRim measure.Length `json:"post_below_rim"`
	PostInGround measure.Length `json:"post_in_ground"`
	MidPosts     string         `json:"mid_posts"` // "auto" or a number on each long side
	MidInGround  measure.Length `json:"mid_in_ground"`
	Cap          string         `json:"cap"`
	CapProfile   string         `json:"cap_profile"`
	CapIn        measure.Length `json:"cap_in"`
	CapOut       measure.Length `json:"cap_out"`
	Access       Access         `json:"access"`
	Reach        measure.Length `json:"reach,omitempty"` // from one side, as it was measured; 0 is the workshop's
	Under        string         `json:"under"`
	Grass        string         `json:"grass"`
	SoilBy       string         `json:"soil_by"`
	Finish       string         `json:"finish,omitempty"`     // "" is none
	Water        Watering       `json:"water,omitempty"`      // "" is by can
	Mulch        string         `json:"mulch,omitempty"`      // "" is none
	MulchDeep    measure.Length `json:"mulch_deep,omitempty"` // 0 is what is usual
	DripApart    measure.Length `json:"drip_apart,omitempty"` // of drip lines; 0 is what is usual
	Boost        string         `json:"boost,omitempty"`      // forked into the top layer; "" is nothing
	Layers       string         `json:"filling,omitempty"`    // from the bottom; "" is soil alone
	On           Standing       `json:"on,omitempty"`         // "ground", "gravel", "slab" or "deck"; "" is ground
	Grows        Growing        `json:"grows,omitempty"`      // what is to grow in it; "" is a bit of everything
	Tended       Tending        `json:"tended,omitempty"`     // how whoever tends it works; "" is kneeling
	Found        string         `json:"found,omitempty"`      // where its timber is from; "" is the shop
	Kept         []string       `json:"kept,omitempty"`       // findings the gardener has decided to live with
	// KeptWhy are what the gardener wrote to them, by code.
	KeptWhy map[string]string `json:"kept_why,omitempty"`
	// Options are the decisions of the system's own: text, number or exact length.
	Options map[string]string `json:"options,omitempty"`
	// Outside are sizes that were said from outside, by the decision that follows from each:
	// "length" and "width" over the walls, "soil" the rim above the ground.
	Outside Outers `json:"outside,omitempty"`
	// Places are where the beds stand on the plot, one for each of Count; those
	// that are missing or unset are placed wherever there is room.
	Places []Place `json:"places,omitempty"`
	// Plants are what grows in it, Wants what shall, Grown what did.
	Plants []Planting `json:"plants,omitempty"`
	Wants  []Want     `json:"wants,omitempty"`
	Grown  []Grown    `json:"grown,omitempty"`
	// Before is the bed as it was before it was only tried in other systems; any other change
	// to it ends the trial.
	Before *Bed `json:"before,omitempty"`
}

// OptionLength returns one of the system's own lengths; Check has seen to it
// that it can be read.
func (b Bed) OptionLength(key string) measure.Length {
	l, err := measure.Parse(b.Options[key], measure.Metric)
	if err != nil {
		return 0
	}
	return l
}

// OptionCount returns one of the system's own numbers, and false where it is
// left to the strength of the boards.
func (b Bed) OptionCount(key string) (int, bool) {
	n, err := strconv.Atoi(b.Options[key])
	return n, err == nil
}

// New returns a project with one boarded bed of the region's sensible
// defaults: 8 ft by 4 ft (2.4 by 1.2 m) with a foot (350 mm) of soil.
func New(cat *catalog.Catalog, name string) Design {
	bed := Bed{
		ID: "b1", System: "boarded", Name: "Bed 1", Corners: SidesCover, MidPosts: Auto,
		Cap: NoCap, Access: BothSides, Under: "cardboard", Grass: "keep", SoilBy: "cheaper",
		On: OnGround, Grows: Mixed, Tended: Kneeling, Found: "shop", Water: ByCan, Finish: Unfinished, Mulch: Unfinished,
	}
	if cat.System == measure.Imperial {
		bed.Length, bed.Width, bed.Soil, bed.Freeboard = 8*measure.Foot, 4*measure.Foot, measure.Foot, measure.Inch
		bed.Board, bed.Species, bed.Post = "2x8", "cedar", "4x4"
		bed.PostBelowRim, bed.MidInGround = measure.Inch, measure.Foot
		bed.CapProfile, bed.CapIn = "2x4", 2*measure.Inch
	} else {
		mm := measure.Millimetre
		bed.Length, bed.Width, bed.Soil, bed.Freeboard = 2400*mm, 1200*mm, 350*mm, 25*mm
		bed.Board, bed.Species, bed.Post = "200x50", "larch", "75x75"
		bed.PostBelowRim, bed.MidInGround = 25*mm, 300*mm
		bed.CapProfile, bed.CapIn = "100x38", 50*mm
	}
	bed.complete(cat)
	return Design{Format: Format, Name: name, Region: cat.ID, Beds: []Bed{bed}}
}

// Words used by choices.
const (
	Auto       = "auto"
	SidesCover = "sides-cover"
	EndsCover  = "ends-cover"
	Pinwheel   = "pinwheel"
	NoCap      = "none"
	Unfinished = "none"
	Butted     = "butted"
	Mitred     = "mitred"
)

// Bed returns the bed with an ID, or the first where id is empty.
func (d *Design) Bed(id string) (*Bed, error) {
	for i := range d.Beds {
		if d.Beds[i].ID == id || id == "" {
			return &d.Beds[i], nil
		}
	}
	return nil, fmt.Errorf("there is no bed %q in this project", id)
}

// Copied returns a bed that shares nothing with b.
func (b Bed) Copied() Bed {
	b.Kept, b.KeptWhy, b.Options = slices.Clone(b.Kept), maps.Clone(b.KeptWhy), maps.Clone(b.Options)
	b.Outside, b.Places = maps.Clone(b.Outside), slices.Clone(b.Places)
	b.Plants, b.Wants, b.Grown = slices.Clone(b.Plants), slices.Clone(b.Wants), slices.Clone(b.Grown)
	if b.Before != nil {
		before := b.Before.Copied()
		b.Before = &before
	}
	return b
}

// Copy returns a design that shares nothing with d.
func (d Design) Copy() Design {
	d.Beds = slices.Clone(d.Beds)
	for i := range d.Beds {
		d.Beds[i] = d.Beds[i].Copied()
	}
	d.Prices, d.Sold = maps.Clone(d.Prices), maps.Clone(d.Sold)
	d.Measured = maps.Clone(d.Measured)
	d.Units, d.Timbers, d.Crops = maps.Clone(d.Units), maps.Clone(d.Timbers), maps.Clone(d.Crops)
	d.Have = maps.Clone(d.Have)
	d.Broken = maps.Clone(d.Broken)
	d.Saw, d.Without = slices.Clone(d.Saw), slices.Clone(d.Without)
	if d.Plot != nil {
		plot := *d.Plot
		plot.Fences = slices.Clone(plot.Fences)
		d.Plot = &plot
	}
	if d.Ground != nil {
		ground := *d.Ground
		ground.Readings = slices.Clone(ground.Readings) // what they point at is never changed
		d.Ground = &ground
	}
	if d.Water != nil {
		water := *d.Water
		d.Water = &water
	}
	if d.Sky != nil {
		sky := *d.Sky
		sky.Tall = slices.Clone(sky.Tall)
		d.Sky = &sky
	}
	if d.Calendar != nil {
		c := *d.Calendar
		c.Hours = maps.Clone(c.Hours)
		c.Away, c.Brought, c.Forecast = slices.Clone(c.Away), slices.Clone(c.Brought), slices.Clone(c.Forecast)
		d.Calendar = &c
	}
	return d
}

// Encode writes the design file, indented, ending in a newline.
func (d Design) Encode() ([]byte, error) {
	raw, err := json.MarshalIndent(d, "", "  ")
	if err != nil {
		return nil, fmt.Errorf("encode design: %w", err)
	}
	return append(raw, '\n'), nil
}

// SpeciesFor returns the species a profile is bought in: the one wanted where
// the shop has it, otherwise the longest-lived it does have.
func SpeciesFor(cat *catalog.Catalog, profile, wanted string) string {
	if cat.Sold(profile, wanted) {
		return wanted
	}
	best, life := wanted, -1
	for _, s := range cat.Species {
		if cat.Sold(profile, s.ID) && s.LifeMin > life {
			best, life = s.ID, s.LifeMin
		}
	}
	return best
}

// Times is how many of the bed are built, at least one.
func (b Bed) Times() int { return max(1, b.Count) }

// MidCount returns the number of mid posts asked for on each long side, and
// false where the strength of the boards is to decide.
func (b Bed) MidCount() (int, bool) {
	n, err := strconv.Atoi(b.MidPosts)
	return n, err == nil
}

// NextID is the ID the next bed gets: the first of b1, b2 ... that is free.
func (d *Design) NextID() string {
	for n := 1; ; n++ {
		id := fmt.Sprintf("b%d", n)
		if !slices.ContainsFunc(d.Beds, func(b Bed) bool { return b.ID == id }) {
			return id
		}
	}
}

// copyBed adds a bed like b under a name and ID of its own.
func (d *Design) copyBed(b Bed) {
	b.ID, b.Name = d.NextID(), d.nextName()
	b.Places, b.Count, b.Grown = nil, 0, nil // one, however many like it there are, that nothing grew in
	d.Beds = append(d.Beds, b.Copied())
}

// nextName is a name that no bed has: Bed 3.
func (d *Design) nextName() string {
	for n := len(d.Beds) + 1; ; n++ {
		name := fmt.Sprintf("Bed %d", n)
		if !slices.ContainsFunc(d.Beds, func(b Bed) bool { return b.Name == name }) {
			return name
		}
	}
}

// addBed adds a bed of a system as it starts out.
func (d *Design) addBed(system string, cat *catalog.Catalog) error {
	b := New(cat, "").Beds[0]
	b.ID, b.Name = d.NextID(), d.nextName()
	if err := b.become(system, cat); err != nil {
		return err
	}
	for _, f := range fields {
		if f.Whole {
			*f.text(&b) = f.value(d.Beds[0])
		}
	}
	d.Beds = append(d.Beds, b)
	return nil
}

// Taken returns a project with one bed as it stands in another.
func Taken(name string, d Design, bed string) (Design, error) {
	b, err := d.Bed(bed)
	if err != nil {
		return Design{}, err
	}
	one := d.Copy()
	one.Name, one.Plot, one.Ground, one.Water, one.Saw = name, nil, nil, nil, nil
	taken := b.Copied()
	taken.ID, taken.Places = "b1", nil
	one.Beds = []Bed{taken}
	return one, nil
}

// SizeFor is a bed of a planting area: as wide as can be reached from where it is reached, and as long as the area
// takes, in whole steps; square where it is small.
func SizeFor(area measure.Area, access Access, cat *catalog.Catalog) (length, width measure.Length) {
	step := measure.Inch
	if cat.System == measure.Metric {
		step = 50 * measure.Millimetre
	}
	width = cat.Reach[string(access)]
	if width == 0 {
		width = cat.Reach["both"]
	}
	if measure.Over(width, width) > area {
		width = max(step, measure.Side(area)/step*step)
	}
	length = width
	for measure.Over(length, width) < area && length < longest {
		length += step
	}
	return length, width
}

// removeBed takes a bed away; Check refuses a project without any.
func (d *Design) removeBed(id string) {
	d.Beds = slices.DeleteFunc(d.Beds, func(b Bed) bool { return b.ID == id })
}

// Complete gives every bed the decisions of its system that it lacks, as their
// defaults: a design kept before its system had them means just those.
func (d *Design) Complete() {
	cat, err := catalog.ForRegion(d.Region)
	if err != nil {
		return
	}
	for i := range d.Beds {
		b := &d.Beds[i]
		b.On, b.Grows = cmp.Or(b.On, OnGround), cmp.Or(b.Grows, Mixed)
		b.Tended, b.Found = cmp.Or(b.Tended, Kneeling), cmp.Or(b.Found, "shop")
		b.Water, b.Finish = cmp.Or(b.Water, ByCan), cmp.Or(b.Finish, Unfinished)
		b.Mulch = cmp.Or(b.Mulch, Unfinished)
		if b.Before != nil {
			b.Before.Before = nil
		}
		b.complete(cat)
	}
}

// complete gives a bed the decisions of its system's own, and of what is added to it, that it lacks.
func (b *Bed) complete(cat *catalog.Catalog) {
	s, _ := SystemNamed(b.System)
	own := slices.Clip(s.Own)
	for _, name := range s.Adds {
		if b.Has(name) {
			own = append(own, extraNamed(name).Fields...)
		}
	}
	for _, f := range own {
		if _, there := b.Options[f.Key]; !there {
			b.option(f.Key, f.start(cat))
		}
	}
}
