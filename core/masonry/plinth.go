package masonry

import (
	"fmt"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// plinth is bricks laid flat and dry for a planter to stand on, clear of wet ground
// and level. Two of a brick's widths and the gap between them are its length, so the
// rows of one course lie across those of the course below and tie them; in every
// other row it begins with half a brick.
//
//	course 1   |____|____|__|       course 2   |  |__|  |__|
//	           |__|____|____|                  |__|  |__|  |
//	           |____|____|__|                  |  |__|  |__|
var plinth = System{
	System: design.System{
		Name: "plinth", Title: "Plinth of bricks", About: "bricks laid flat, dry and level, for a planter to stand on",
		Of:       "masonry",
		Examples: []design.Example{{About: "bricks laid flat and dry under a planter"}},
		Uses:     []string{"grass"},
		Lacks: append([]string{"soil", "freeboard", "soil_by", "filling", "boost", "mulch", "mulch_deep", "water",
			"drip_apart", "finish", "grows",
			"tended"}, lacks...),
		Names: map[string]string{"length": "Length", "width": "Width"},
		Own: []design.Field{
			{
				Key:     unitKey,
				Label:   "Unit",
				Stage:   design.AtFrame,
				Kind:    design.ChoiceField,
				Default: "",
				Offer:   unitsOf(catalog.Brick),
			},
			{
				Key:     layersKey,
				Label:   "Courses",
				Stage:   design.AtFrame,
				Kind:    design.NumberField,
				Default: "2",
				Most:    6,
				Help:    "Two lie across one another and hold together; more lift a planter further off wet ground.",
			},
			{
				Key:     buryKey,
				Idle:    onFirm,
				Label:   "First course below the ground",
				Stage:   design.AtGround,
				Kind:    design.LengthField,
				Default: "1 in",
				Metric:  "25 mm",
				Help:    "Let in a little it cannot creep apart.",
			},
			{Key: baseKey, Label: "It stands on", Stage: design.AtGround, Kind: design.ChoiceField, Idle: onFirm,
				Default: "levelled",
				Offers: []design.Choice{
					{Value: "full", Label: "compacted base and a screed", Note: "for a heavy planter on soft ground"},
					{Value: "levelled", Label: "levelled ground and a little sand", Note: "may have to be relaid"},
				}},
		},
		Start:  startPlinth,
		Follow: followPlinth,
		Apart: func(b design.Bed, cat *catalog.Catalog, field string) measure.Length {
			if u, err := cat.Unit(b.Options[unitKey]); err == nil && (field == "length" || field == "width") {
				return brickStep(u)
			}
			return 0
		},
		Check: checkPlinth,
	},
	Build: buildPlinth,
}

const layersKey = "layers"

// between is the gap that makes two bricks side by side as wide as one is long.
func between(u catalog.Unit) measure.Length { return u.Length - 2*u.Depth }

// brickStep is a brick's width and a gap.
func brickStep(u catalog.Unit) measure.Length { return u.Depth + between(u) }

func startPlinth(cat *catalog.Catalog, b *design.Bed) {
	u := cat.UnitsOf(catalog.Brick)[0]
	b.Options[unitKey] = u.ID
	b.Length, b.Width = min(b.Length, 1250*measure.Millimetre), min(b.Width, 700*measure.Millimetre)
	snapPlinth(b, u)
}

// snapPlinth makes a plinth no smaller than what is to stand on it, in whole and half
// bricks.
func snapPlinth(b *design.Bed, u catalog.Unit) {
	step := brickStep(u)
	b.Length = up(b.Length+between(u), step) - between(u)
	b.Width = min(b.Length, up(b.Width+between(u), step)-between(u))
}

func followPlinth(b *design.Bed, cat *catalog.Catalog, changed func(string) bool) {
	if u, err := cat.Unit(b.Options[unitKey]); err == nil && changed(unitKey) && between(u) >= 0 &&
		!changed("length") &&
		!changed("width") {
		snapPlinth(b, u)
	}
}

func checkPlinth(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	u, err := cat.Unit(b.Options[unitKey])
	if err != nil {
		refuse(unitKey, "%v", err)
		return
	}
	p := cat.Precision(cat.Habits)
	if gap := between(u); gap < 0 || gap > widestGap {
		refuse(
			unitKey,
			"two widths of a %s do not make its length: no bond across; a brick whose length is two widths and a"+
				" joint works",
			u.Name,
		)
		return
	}
	if n, ok := b.OptionCount(layersKey); !ok || n < 1 {
		refuse(layersKey, "1 to 6 courses work")
	}
	if bury := b.OptionLength(buryKey); bury < 0 || bury > u.Height {
		refuse(buryKey, "up to the height of a brick works, %s", p.Short(u.Height))
	}
	for i, field := range []string{"length", "width"} {
		l := []measure.Length{b.Length, b.Width}[i]
		if over := (l + between(u)) % brickStep(u); over != 0 {
			refuse(
				field,
				"no whole and half bricks make %s: %s and %s do",
				p.Feet(l),
				lengthText(p, l-over),
				lengthText(p, l-over+brickStep(u)),
			)
		}
	}
}

func buildPlinth(bed design.Bed, cat *catalog.Catalog) (frame.Frame, error) {
	u, err := cat.Unit(bed.Options[unitKey])
	if err != nil {
		return frame.Frame{}, err
	}
	n, _ := bed.OptionCount(layersKey)
	gap, use := between(u), usually(cat)
	u.Joint = 0 // courses lie on one another
	w := &laid{bed: bed, unit: u, courses: n, bury: buried(bed)}
	w.top = u.Height*measure.Length(n) - w.bury
	w.f = frame.Frame{Bed: bed.ID, Name: bed.Name, Rim: w.top}
	for course := 1; course <= n; course++ {
		long, rows := bed.Length, bed.Width
		if course%2 == 0 {
			long, rows = rows, long
		}
		for row, across := 0, measure.Length(0); across < rows; row, across = row+1, across+brickStep(u) {
			at := measure.Length(0)
			for i := 0; at < long; i++ {
				to := min(long, at+u.Length)
				if i == 0 && row%2 == 1 {
					to = at + u.Depth
				}
				o := rectangle(frame.Spot{U: at, V: across}, frame.Spot{U: to, V: across + u.Depth})
				if course%2 == 0 {
					o = rectangle(frame.Spot{U: across, V: at}, frame.Spot{U: across + u.Depth, V: to})
				}
				kind, cut := frame.StandardUnit, measure.Length(0)
				if to-at < u.Length {
					kind, cut = frame.CutUnit, to-at
				}
				w.lay(u.ID, kind, fmt.Sprintf("row %d, course %d", row+1, course), course, o, cut, 0)
				w.f.Units[len(w.f.Units)-1].Dry = true
				at = to + gap
			}
		}
	}
	w.f.Outside = [2]frame.Spot{{}, {U: bed.Length, V: bed.Width}}
	base := frame.Base{
		Bed:   bed.ID,
		Line:  bed.Length,
		Thick: bed.Width,
		Wide:  bed.Width + 2*use.beside,
		Seat:  measure.Over(bed.Length, bed.Width),
		Area: measure.Over(
			bed.Length+2*use.beside,
			bed.Width+2*use.beside,
		),
		Stone:  use.stone,
		Screed: use.screed,
		Buried: w.bury,
	}
	switch {
	case bed.On.Firm():
		base.Stone, base.Screed = 0, 0
	case bed.Options[baseKey] == "levelled":
		base.Stone, base.Sand = 0, true
	}
	w.f.Bases = []frame.Base{base}
	w.acts(
		"from a corner, along a line, with gaps that make two bricks as wide as one is long",
		"across the course below",
	)
	at := func(x, y, z measure.Length) frame.Point { return frame.Point{X: x, Y: y, Z: z} }
	w.f.Measures = []frame.Measure{
		{Name: "length", Field: "length", From: at(0, 0, w.top), To: at(bed.Length, 0, w.top), Primary: true},
		{Name: "width", Field: "width", From: at(0, 0, w.top), To: at(0, bed.Width, w.top), Primary: true},
		{Name: "height", From: at(0, 0, 0), To: at(0, 0, w.top), Primary: true},
		{Name: "a brick and a gap", From: at(0, 0, 0), To: at(u.Length+gap, 0, 0)},
		{Name: "two bricks across", From: at(0, 0, 0), To: at(0, min(bed.Width, u.Length), 0)},
		{Name: "one course", From: at(bed.Length, bed.Width, -w.bury), To: at(bed.Length, bed.Width, u.Height-w.bury)},
	}
	return w.f, nil
}

// rectangle is an outline from its lowest corner to its highest.
func rectangle(lo, hi frame.Spot) []frame.Spot {
	return []frame.Spot{lo, {U: hi.U, V: lo.V}, hi, {U: lo.U, V: hi.V}}
}
