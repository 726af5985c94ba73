package design

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// Kind is how a field is given.
type Kind string

// The kinds of field.
const (
	TextField   Kind = "text"
	LengthField Kind = "length"
	ChoiceField Kind = "choice"
	NumberField Kind = "number" // a whole number, or "auto"
	PointsField Kind = "points" // of a line or an outline that is drawn
	LayersField Kind = "layers" // of a bed's filling, from the bottom
)

// Field describes one decision: how it is called everywhere, where in the
// order of work it is taken, and how it is read and set.
type Field struct {
	Key   string
	Label string
	Stage Stage
	Kind  Kind
	Help  string // with the reason, shown beside the field
	Cap   bool   // matters only where there is a cap
	Whole bool   // of the whole project: the same for all beds
	// Default is what a decision of a system's or an extra's own starts from, and
	// Metric what it does where boards are metric, if that differs; Offers are its
	// alternatives where it is a choice, Most the largest number where it is one.
	Default string
	Metric  string
	Offers  []Choice
	Most    int
	// Offer lists alternatives that depend on the shop or the bed; of a length,
	// sizes that are usual.
	Offer func(*catalog.Catalog, Bed) []Choice

	// Idle says why the decision changes nothing on a bed as it is, "" where it does.
	Idle func(Bed) string

	Does []Deed // what a remedy may ask of it

	empty bool // of a text: it may be left out

	extra string // the extra it belongs to, if any
	turns bool   // says whether the extra is there

	text    func(*Bed) *string // both nil: the system's own, kept in Bed.Options
	length  func(*Bed) *measure.Length
	number  func(*Bed) *int // a number that is never auto
	choices func(*catalog.Catalog, *Bed) []Choice
	listed  bool // choices are the same everywhere
}

func (f Field) own() bool { return f.text == nil && f.length == nil && f.number == nil }

// start is what a decision starts from.
func (f Field) start(cat *catalog.Catalog) string {
	if cat.System == measure.Metric && f.Metric != "" {
		return f.Metric
	}
	return f.Default
}

// schools are the common decisions about which gardeners disagree.
var schools = []string{"corners", "cap", "grass", "under", "soil_by"}

// Usual is the alternative that a choice among schools starts from, "" where there is no
// such thing: where what is right is a fact of the place, or of what the shop has.
func (f Field) Usual(cat *catalog.Catalog) string {
	switch {
	case f.Kind != ChoiceField || f.Offer != nil:
		return ""
	case f.own():
		return f.start(cat)
	case slices.Contains(schools, f.Key):
		return f.value(New(cat, "").Beds[0])
	}
	return ""
}

// Extra reports whether the decision belongs to something that is added, and
// whether it says that it is there.
func (f Field) Extra() (is, turns bool) { return f.extra != "", f.turns }

// Matters reports whether the decision has anything to decide on this bed: the
// cap's board only where there is a cap, a trellis's height only where there is
// a trellis.
func (f Field) Matters(b Bed) bool {
	return !(f.Cap && b.Cap == NoCap) && (f.extra == "" || f.turns || b.Has(f.extra))
}

// Decides reports whether the decision matters and leaves a choice.
func (f Field) Decides(cat *catalog.Catalog, b Bed) bool {
	return f.Matters(b) && (f.Kind != ChoiceField || len(f.Choices(cat, b)) > 1)
}

// Builds reports whether the decision is about what is built, and not about who uses it
// or what is said of it.
func (f Field) Builds() bool { return f.own() }

// Choice is one alternative of a choice field.
type Choice struct {
	Value, Label string
	Note         string // the school's reason
}

// Text returns the field's value as it would be typed.
func (f Field) Text(b Bed, p measure.Precision) string {
	if f.Kind == LengthField {
		l := f.LengthOf(b)
		if p.Exact(l) {
			return p.Feet(l)
		}
		return l.String()
	}
	if f.Kind == PointsField {
		return writePoints(b.Points(f.Key), func(l measure.Length) string {
			if p.Exact(l) {
				return p.Feet(l)
			}
			return l.String()
		})
	}
	if f.Kind == LayersField {
		return b.layersText(p)
	}
	return f.value(b)
}

// value is the field's text as it is stored.
func (f Field) value(b Bed) string {
	switch {
	case f.number != nil:
		return strconv.Itoa(max(1, *f.number(&b)))
	case f.text == nil:
		if v, there := b.Options[f.Key]; there || !f.turns {
			return v
		}
		return NotThere
	}
	return *f.text(&b)
}

// LengthOf returns a length field's value.
func (f Field) LengthOf(b Bed) measure.Length {
	switch {
	case f.Kind != LengthField:
		return 0
	case f.length == nil:
		return b.OptionLength(f.Key)
	}
	return *f.length(&b)
}

// Choices returns the alternatives of a choice field.
func (f Field) Choices(cat *catalog.Catalog, b Bed) []Choice {
	if f.Offer != nil {
		return f.Offer(cat, b)
	}
	if f.choices == nil {
		return f.Offers
	}
	return f.choices(cat, &b)
}

func (f Field) set(b *Bed, cat *catalog.Catalog, value string) error {
	value = strings.TrimSpace(value)
	if f.Key == "system" {
		return b.tried(value, cat)
	}
	b.Before = nil // what is changed is meant
	if f.turns {
		b.add(extraNamed(f.extra), value, cat)
		return nil
	}
	if f.extra != "" && !b.Has(f.extra) {
		return fmt.Errorf("there is no %s here yet; add it first", f.extra)
	}
	switch f.Kind {
	case LengthField:
		if long, wide, pair, err := measure.ParsePair(value, cat.System); pair && (f.Key == "length" || f.Key == "width") {
			if err == nil {
				b.inside("length", "width")
				b.Length, b.Width = long, wide
			}
			return err
		}
		l, err := measure.Parse(value, cat.System)
		if err != nil {
			return err
		}
		if f.own() {
			b.option(f.Key, l.String())
		} else {
			b.inside(f.Key)
			*f.length(b) = l
		}
		return nil
	case NumberField:
		if err := f.countable(value); err != nil {
			return err
		}
	case LayersField:
		list, err := ReadLayers(value, cat)
		if err != nil {
			return err
		}
		value = WriteLayers(list)
	case PointsField:
		list, err := ReadPoints(value, cat.System)
		if err != nil {
			return err
		}
		value = WritePoints(fromCorner(list))
	}
	if f.number != nil {
		n, _ := strconv.Atoi(value) // countable has seen it
		*f.number(b) = n
	} else if f.own() {
		b.option(f.Key, value)
	} else {
		*f.text(b) = value // Check refuses what is not on offer
	}
	return nil
}

// countable refuses what is neither auto nor a whole number up to the most.
func (f Field) countable(value string) error {
	if f.number != nil {
		if n, err := strconv.Atoi(value); err != nil || n < 1 || n > f.Most {
			return fmt.Errorf("%q is not a number for this: give 1 to %d", value, f.Most)
		}
		return nil
	}
	if n, err := strconv.Atoi(value); value != Auto && (err != nil || n < 0 || n > f.Most) {
		return fmt.Errorf("%q is not a number for this: give auto or 0 to %d", value, f.Most)
	}
	return nil
}

// MaxMidPosts is the most mid posts one side may be given.
const MaxMidPosts = 20

// idleUnless is why a decision changes nothing, "" where it does.
func idleUnless(does bool, why string) string {
	if does {
		return ""
	}
	return why
}

var fields = []Field{
	{Key: "access", Label: "Reached from", Stage: AtSite, Kind: ChoiceField,
		Help: "How far an arm reaches decides how wide the bed may be.",
		text: func(b *Bed) *string { return (*string)(&b.Access) }, listed: true, choices: fixed(
			Choice{"both", "both long sides", "a bed in the open"},
			Choice{"one", "one long side", "against a fence or wall"},
			Choice{"both-child", "both sides, child or seated", "shorter reach"},
			Choice{"one-child", "one side, child or seated", "shorter reach"})},
	{Key: "reach", Label: "Reach, measured", Stage: AtSite, Kind: LengthField,
		Help:   "From one side, as far as whoever tends this bed works in comfort. 0 takes the workshop's, or what is usual.",
		length: func(b *Bed) *measure.Length { return &b.Reach }},
	{Key: "tended", Label: "Tended", Stage: AtSite, Kind: ChoiceField,
		Help: "How whoever tends it works decides how high the rim should be.",
		text: func(b *Bed) *string { return (*string)(&b.Tended) }, listed: true, choices: fixed(
			Choice{"kneeling", "kneeling or bending", "any height"},
			Choice{"standing", "standing upright", "a rim a little below the elbow"},
			Choice{"seated", "seated beside it", "a rim a seated arm reaches over"},
			Choice{"wheelchair", "from a wheelchair, knees under it", "room for knees below a planter on legs"})},
	{Key: "grows", Label: "To grow", Stage: AtSite, Kind: ChoiceField,
		Help: "Decides how deep the soil should be.",
		text: func(b *Bed) *string { return (*string)(&b.Grows) }, listed: true, choices: fixed(
			Choice{"mixed", "a bit of everything", "nothing is asked of the depth"},
			Choice{"salads", "salads, herbs, strawberries", "shallow roots"},
			Choice{"greens", "beans, peas, cabbages, short carrots", "middling roots"},
			Choice{"fruits", "tomatoes, squashes, potatoes, parsnips", "deep roots"},
			Choice{"perennials", "asparagus, rhubarb, small fruit", "deep, and for years"},
			Choice{"flowers", "flowers only", "nothing is eaten"})},
	{Key: "on", Label: "Stands on", Stage: AtSite, Kind: ChoiceField,
		text: func(b *Bed) *string { return (*string)(&b.On) }, listed: true, choices: fixed(
			Choice{"ground", "the ground", "drains and roots downwards"},
			Choice{"gravel", "gravel or chippings", "drains; soil washes down into it without a cloth"},
			Choice{"slab", "paving or a slab", "nothing can be driven in; water has to get out"},
			Choice{"deck", "a deck, balcony or roof", "its load has to be carried"})},
	{Key: "found", Label: "Its timber is", Stage: AtSite, Kind: ChoiceField,
		text: func(b *Bed) *string { return &b.Found }, listed: true, choices: fixed(
			Choice{"shop", "from the shop, or known to be sound", "labelled, or never treated"},
			Choice{"ties", "old railway ties", "soaked in creosote"},
			Choice{"old-treated", "old treated boards", "before 2004 usually with arsenic"},
			Choice{"pallets", "pallets without a mark", "nobody knows what was spilt or sprayed"})},
	{Key: "name", Label: "Name", Stage: AtBed, Kind: TextField,
		text: func(b *Bed) *string { return &b.Name }},
	{Key: "count", Label: "How many of these", Stage: AtBed, Kind: NumberField, Most: 100,
		number: func(b *Bed) *int { return &b.Count }},
	{Key: "system", Label: "Built as", Stage: AtBed, Kind: ChoiceField,
		text: func(b *Bed) *string { return &b.System }, choices: systemChoices},
	{Key: "length", Label: "Planting length", Stage: AtBed, Kind: LengthField,
		Help:   "Clear, inside the cap or the walls.",
		length: func(b *Bed) *measure.Length { return &b.Length }},
	{Key: "width", Label: "Planting width", Stage: AtBed, Kind: LengthField,
		Help:   "Clear, inside the cap or the walls.",
		length: func(b *Bed) *measure.Length { return &b.Width }},
	{Key: "soil", Label: "Soil depth", Stage: AtBed, Kind: LengthField,
		Help:   "What the roots get, after settling.",
		length: func(b *Bed) *measure.Length { return &b.Soil }},
	{Key: "freeboard", Label: "Soil below the rim", Stage: AtBed, Kind: LengthField,
		Help:   "Keeps water and mulch from washing over the edge.",
		length: func(b *Bed) *measure.Length { return &b.Freeboard }},
	{Key: "board", Label: "Boards", Stage: AtFrame, Kind: ChoiceField,
		text: func(b *Bed) *string { return &b.Board }, choices: wallBoards},
	{Key: "species", Label: "Timber", Stage: AtFrame, Kind: ChoiceField,
		Help: "Years are a range: dry ground and thick boards reach the upper end.",
		text: func(b *Bed) *string { return &b.Species }, choices: func(cat *catalog.Catalog, b *Bed) []Choice {
			var list []Choice
			for _, s := range cat.Species {
				if cat.Sold(b.Board, s.ID) || s.ID == b.Species {
					list = append(list, Choice{s.ID, s.Name, fmt.Sprintf("%d–%d years in soil", s.LifeMin, s.LifeMax)})
				}
			}
			return list
		}},
	{Key: "corners", Label: "Corners", Stage: AtFrame, Kind: ChoiceField,
		text: func(b *Bed) *string { return &b.Corners }, listed: true, choices: fixed(
			Choice{SidesCover, "sides cover the ends", "no end grain on the long face"},
			Choice{EndsCover, "ends cover the sides", "shorter long boards"},
			Choice{Pinwheel, "each board covers one corner", "sides and ends a thickness shorter than the outside"})},
	{Key: "post", Label: "Corner posts", Stage: AtFrame, Kind: ChoiceField,
		text: func(b *Bed) *string { return &b.Post }, choices: profiles(catalog.Post, catalog.Stake)},
	{Key: "post_below_rim", Label: "Posts stop below the rim", Stage: AtFrame, Kind: LengthField,
		Help:   "A little below, and the soil hides them.",
		length: func(b *Bed) *measure.Length { return &b.PostBelowRim }},
	{Key: "post_in_ground", Label: "Corner posts into the ground", Stage: AtFrame, Kind: LengthField,
		Help:   "0 stands the bed on the ground; feet go about 4 in (100 mm) down (common practice).",
		length: func(b *Bed) *measure.Length { return &b.PostInGround }},
	{Key: "mid_posts", Label: "Mid posts, each long side", Stage: AtFrame, Kind: NumberField, Most: MaxMidPosts,
		Help: "auto sets as many as the boards need to stay straight.",
		text: func(b *Bed) *string { return &b.MidPosts }},
	{
		Key:    "mid_in_ground",
		Does:   []Deed{{For: SetsPosts}},
		Label:  "Mid posts into the ground",
		Stage:  AtFrame,
		Kind:   LengthField,
		Help:   "What holds a mid post is the ground: 12 to 16 in (300 to 400 mm) (common practice).",
		length: func(b *Bed) *measure.Length { return &b.MidInGround },
	},
	{Key: "cap", Label: "Cap", Stage: AtFrame, Kind: ChoiceField,
		Help: "A flat board round the rim.",
		text: func(b *Bed) *string { return &b.Cap }, listed: true, choices: fixed(
			Choice{NoCap, "none", "cheaper"},
			Choice{Butted, "butted", "locks the frame, square cuts"},
			Choice{Mitred, "mitred", "locks the frame, hides every end"})},
	{Key: "cap_profile", Label: "Cap board", Stage: AtFrame, Kind: ChoiceField, Cap: true,
		text: func(b *Bed) *string { return &b.CapProfile }, choices: capBoards},
	{Key: "cap_in", Label: "Cap overhang inwards", Stage: AtFrame, Kind: LengthField, Cap: true,
		Help:   "The other overhang takes what is left of the cap's width.",
		length: func(b *Bed) *measure.Length { return &b.CapIn }},
	{Key: "cap_out", Label: "Cap overhang outwards", Stage: AtFrame, Kind: LengthField, Cap: true,
		Help:   "0 is flush with the outer face.",
		length: func(b *Bed) *measure.Length { return &b.CapOut }},
	{Key: "grass", Label: "Grass under the bed", Stage: AtGround, Kind: ChoiceField,
		text: func(b *Bed) *string { return &b.Grass }, listed: true, choices: fixed(
			Choice{"keep", "cut short and cover", "less work; rots in place"},
			Choice{"strip", "strip the turf", "settles less"},
			Choice{"bare", "there is none", "bare soil"})},
	{Key: "under", Label: "Under the bed", Stage: AtGround, Kind: ChoiceField,
		text: func(b *Bed) *string { return &b.Under }, listed: true, choices: fixed(
			Choice{"none", "nothing", "roots go down freely"},
			Choice{"cardboard", "cardboard", "smothers grass, rots, lets worms through"},
			Choice{"fabric", "landscape fabric", "lasts, but blocks worms"})},
	{Key: "water", Label: "Watered", Stage: AtWater, Kind: ChoiceField,
		text: func(b *Bed) *string { return (*string)(&b.Water) }, listed: true, choices: fixed(
			Choice{"can", "by can", "nothing to buy; every other day in summer"},
			Choice{"hose", "by hose", "nothing to buy; wets leaves and paths as well"},
			Choice{"sprinkler", "by a sprinkler", "wets leaves, and what wind takes; at dawn, so that they dry"},
			Choice{"drip", "by drip lines", "to the roots, by a timer; laid before planting"})},
	{Key: "drip_apart", Label: "Drip lines apart", Stage: AtWater, Kind: LengthField,
		Help: "0 takes 12 in (300 mm), or 10 in (250 mm) where the top layer is half sand, peat or coir; 18 in (450 mm)" +
			" does in clay (common practice).",
		Idle:   func(b Bed) string { return idleUnless(b.Water == ByDrip, "it is not watered by drip lines") },
		length: func(b *Bed) *measure.Length { return &b.DripApart }},
	{Key: "finish", Label: "Brushed with", Stage: AtFinish, Kind: ChoiceField,
		Help: "On the faces that show outside, and on end grain. Never inside, where food grows.",
		text: func(b *Bed) *string { return &b.Finish }, listed: true, choices: fixed(
			Choice{Unfinished, "nothing", "it greys, and lasts as long as its timber does"},
			Choice{"linseed", "raw linseed oil", "two coats; again every year or two"},
			Choice{"tung", "tung oil", "three coats, harder; again every other year"},
			Choice{"stain", "water-based stain", "two coats in a day; again after three years"})},
	{Key: "filling", Label: "Layers, from the bottom", Stage: AtFill, Kind: LayersField,
		Help: "As they have settled: branches: 8 in (200 mm); 3 topsoil + 2 compost: 6 in (150 mm); mix." +
			" The top one takes what is left; empty is soil alone.",
		text: func(b *Bed) *string { return &b.Layers }},
	{Key: "boost", Label: "Forked into the top layer", Stage: AtFill, Kind: TextField,
		Help: "Feeds, and takes no room: feed; lime; bone; castings. As much as is usual, or so much to the square metre:" +
			" lime: 200 g; castings: 5 l.",
		text: func(b *Bed) *string { return &b.Boost }, empty: true},
	{Key: "mulch", Label: "Mulched with", Stage: AtFill, Kind: ChoiceField,
		Help: "On top of the soil: it keeps water in and weeds down.",
		text: func(b *Bed) *string { return &b.Mulch }, listed: true, choices: fixed(
			Choice{Unfinished, "nothing", "bare soil"},
			Choice{"compost", "compost", "feeds as well; sown into"},
			Choice{"straw", "straw", "under strawberries and squashes"},
			Choice{"chips", "wood chips", "round perennials, not sown into"})},
	{Key: "mulch_deep", Label: "Mulch deep", Stage: AtFill, Kind: LengthField,
		Help:   "Once it has settled: 0 takes 2 in (50 mm), less where the rim is lower (common practice).",
		Idle:   func(b Bed) string { return idleUnless(b.Mulched(), "it is not mulched") },
		length: func(b *Bed) *measure.Length { return &b.MulchDeep }},
	{
		Key:    "soil_by",
		Label:  "Soil comes",
		Stage:  AtFill,
		Kind:   ChoiceField,
		Whole:  true,
		Help:   "One delivery, decided for all beds together.",
		text:   func(b *Bed) *string { return &b.SoilBy },
		listed: true,
		choices: fixed(
			Choice{"cheaper", "the cheaper way", "worked out for this bed"},
			Choice{"bag", "in bags", "carried by hand, no heap in the drive"},
			Choice{"loose", "loose, delivered", "a heap to wheel in"}),
	},
}

func fixed(list ...Choice) func(*catalog.Catalog, *Bed) []Choice {
	return func(*catalog.Catalog, *Bed) []Choice { return list }
}

// wallBoards lists the profiles the bed's system can be built of, those sold in
// the bed's timber only.
func wallBoards(cat *catalog.Catalog, b *Bed) []Choice {
	system, _ := SystemNamed(b.System)
	var list []Choice
	for _, p := range cat.Profiles {
		if system.takes(p) && (cat.Sold(p.ID, b.Species) || p.ID == b.Board) {
			list = append(list, Choice{p.ID, p.Name, "really " + p.Actual})
		}
	}
	return list
}

// SeatWide is what a cap has to be across to be sat on for a while: a 2x6 is
// (common practice).
const SeatWide = 135 * measure.Millimetre

// capBoards offers the boards a cap is made of, and says which make a seat.
func capBoards(cat *catalog.Catalog, b *Bed) []Choice {
	list := profiles(catalog.Board)(cat, b)
	for i, c := range list {
		if p, err := cat.Profile(c.Value); err == nil && p.Width >= SeatWide {
			list[i].Note += ", wide enough to sit on"
		}
	}
	return list
}

// profiles lists the profiles of a kind.
func profiles(kinds ...catalog.ProfileKind) func(*catalog.Catalog, *Bed) []Choice {
	return func(cat *catalog.Catalog, b *Bed) []Choice {
		var list []Choice
		for _, kind := range kinds {
			for _, p := range cat.Profiles {
				if p.Kind == kind {
					list = append(list, Choice{p.ID, p.Name, "really " + p.Actual})
				}
			}
		}
		return list
	}
}
