package masonry

import (
	"fmt"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Decisions that cast walls have in common.
const (
	thickKey  = "thick"
	rubbleKey = "rubble"
	batchKey  = "mixed_in"
	mixKey    = "mix"
	stripKey  = "strips_of"
	dayKey    = "mixes_a_day"
)

// castFields are those decisions.
func castFields() []design.Field {
	return []design.Field{
		{Key: mixKey, Label: "Mixed from", Stage: design.AtFrame, Kind: design.ChoiceField, Default: "bags",
			Offers: []design.Choice{
				{Value: "bags", Label: "mortar mix in bags", Note: "add water; simple"},
				{Value: "3", Label: "one cement, three sand", Note: "strong; mixed by the shovel"},
				{Value: "4", Label: "one cement, four sand", Note: "usual for garden walls"},
			}},
		{
			Key:     thickKey,
			Label:   "Wall thick",
			Stage:   design.AtFrame,
			Kind:    design.LengthField,
			Default: "6 in",
			Metric:  "150 mm",
			Help:    "About a hand's width and more, 5 to 8 in (125 to 200 mm) (common practice).",
		},
		{
			Key:     rubbleKey,
			Label:   "Rubble in it, per cent",
			Stage:   design.AtFrame,
			Kind:    design.NumberField,
			Default: "25",
			Most:    50,
			Help: "Clean broken brick or stone, washed, two fingers off either face (common practice: a" +
				" quarter to a third).",
		},
		{Key: batchKey, Label: "Mixed in", Stage: design.AtFrame, Kind: design.ChoiceField, Default: "barrow",
			Offers: []design.Choice{
				{Value: "barrow", Label: "a wheelbarrow", Note: "2 bags at a time"},
				{Value: "mixer", Label: "a hired mixer", Note: "4 bags at a time"},
			}},
		{
			Key:     buryKey,
			Idle:    onFirm,
			Label:   "Foot below the ground",
			Stage:   design.AtGround,
			Kind:    design.LengthField,
			Default: "4 in",
			Metric:  "100 mm",
			Help:    "So that it cannot slide, and frost lifts it less.",
		},
		{Key: baseKey, Label: "It stands on", Stage: design.AtGround, Kind: design.ChoiceField, Idle: onFirm, Default: "full",
			Offers: []design.Choice{
				{Value: "full", Label: "compacted base", Note: "drains, and frost lifts it less"},
				{Value: "levelled", Label: "firm ground", Note: "cheaper; may crack"},
			}},
		{
			Key:     stripKey,
			Label:   "Formed with",
			Stage:   design.AtFrame,
			Kind:    design.ChoiceField,
			Default: design.Auto,
			Offer: func(cat *catalog.Catalog, _ design.Bed) []design.Choice {
				list := []design.Choice{{Value: design.Auto, Label: "the narrowest that is wide enough"}}
				for _, s := range cat.Fittings {
					if strings.HasPrefix(s.ID, flashing) {
						list = append(list, design.Choice{Value: s.ID, Label: s.Name})
					}
				}
				return list
			},
		},
		{
			Key:     dayKey,
			Label:   "Mixes in a day",
			Stage:   design.AtFrame,
			Kind:    design.NumberField,
			Default: "12",
			Most:    60,
			Help: "Two people mix and place about 12 (common practice). It says how much wall is formed at a time, and how" +
				" many days it takes.",
		},
	}
}

// flashing is how the numbers of strips begin that walls are formed with.
const flashing = "flashing"

// Stakes about every 2 ft (600 mm) on the straight and 1 ft (300 mm) on curves; strips
// lap a hand, 100 mm (4 in) (common practice).
const (
	stakeStraight = 600 * measure.Millimetre
	stakeCurve    = 300 * measure.Millimetre
	stripLap      = 100 * measure.Millimetre
)

// cast is what a poured wall weighs, kg/m³ (EN 1991-1-1 Table A.1: plain concrete 24
// kN/m³, from memory; less for what is trowelled).
const cast = 2200

// castUnit is a cast wall as what stands by its weight: as thick, and as heavy.
func castUnit(thick measure.Length) catalog.Unit {
	u := catalog.Unit{Kind: catalog.CastWall, Depth: thick, Length: thick, Back: thick, Height: thick}
	u.Mass = cast * measure.Over(thick, thick).By(thick).CubicMetres()
	return u
}

// checkCast refuses what no wall is cast to.
func checkCast(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) bool {
	p := cat.Precision(cat.Habits)
	if thick := b.OptionLength(thickKey); thick < 75*measure.Millimetre || thick > 400*measure.Millimetre {
		refuse(
			thickKey,
			"a cast wall %s thick cracks or wastes: from %s to %s works",
			p.Short(thick),
			p.AtLeast(75*measure.Millimetre),
			p.AtMost(400*measure.Millimetre),
		)
		return false
	}
	if bury := b.OptionLength(buryKey); bury < 0 || bury > 500*measure.Millimetre {
		refuse(buryKey, "up to %s works", p.AtMost(500*measure.Millimetre))
		return false
	}
	if n, ok := b.OptionCount(dayKey); !ok || n < 1 {
		refuse(dayKey, "a wall is cast by the mix: from 1 to 60 a day works")
		return false
	}
	return true
}

// form is what a cast wall is formed with: strips on both faces, and stakes outside them.
type form struct {
	strip        catalog.Fitting
	rows, strips int // one over the other; in all
	stakes       int
	faces, tall  measure.Length
	lap          measure.Length
	p            measure.Precision
}

// formed is the form of so much face, both together: of the strips that were chosen, or of
// the narrowest that are as wide as it is high; of several, lapped, where none is.
func formed(b design.Bed, cat *catalog.Catalog, faces, tall measure.Length, stakes int) (form, error) {
	f := form{stakes: stakes, faces: faces, tall: tall, lap: stripLap, rows: 1, p: cat.Precision(cat.Habits)}
	var err error
	if id := b.Options[stripKey]; id != design.Auto {
		f.strip, err = cat.Fitting(id)
	} else {
		f.strip, err = cat.Reaching(flashing, tall, func(f catalog.Fitting) measure.Length { return f.Height })
	}
	if err != nil {
		return f, err
	}
	if f.strip.Height < tall {
		f.rows = int((tall - stripLap + f.strip.Height - stripLap - 1) / (f.strip.Height - stripLap))
	}
	if cat.System == measure.Imperial {
		f.lap = 4 * measure.Inch
	}
	f.strips = f.rows * int((faces+f.strip.Each-f.lap-1)/(f.strip.Each-f.lap))
	return f, nil
}

// fittings are its strips and stakes.
func (f form) fittings(bed string) []frame.Fitting {
	why := fmt.Sprintf("%d strips for both faces of a form %s high, each lapping the next by %s", f.strips,
		f.p.Short(f.tall), f.p.Short(f.lap))
	if f.rows > 1 {
		why += fmt.Sprintf("; %d one over the other, for none is as wide", f.rows)
	}
	return []frame.Fitting{
		{
			ID:    bed + ".flashing",
			Bed:   bed,
			Kind:  f.strip.ID,
			Place: "both faces of the form, lapped a hand",
			Count: f.strips,
			Why:   why,
		},
		{
			ID:    bed + ".stakes",
			Bed:   bed,
			Kind:  "pin",
			Place: "outside the strips",
			Count: f.stakes,
			Why: fmt.Sprintf("%d stakes, every 2 ft (600 mm) and every foot (300 mm) on curves; they serve again",
				f.stakes),
		},
	}
}

// pour is a wall cast in it; where it runs is the caller's to say.
func (f form) pour(b design.Bed, id string, volume measure.Volume, from, to measure.Length) frame.Pour {
	rubble, _ := b.OptionCount(rubbleKey)
	sand, _ := b.OptionCount(mixKey)
	daily, _ := b.OptionCount(dayKey)
	return frame.Pour{
		ID:         id,
		Bed:        b.ID,
		Volume:     volume,
		Density:    cast,
		FormLength: f.faces,
		FormHeight: f.tall,
		Strips:     f.strips,
		Stakes:     f.stakes,
		Rubble:     rubble * 10,
		Batch:      map[string]int{"barrow": 2, "mixer": 4}[b.Options[batchKey]],
		Daily:      daily,
		Sand:       sand,
		From:       from,
		To:         to,
	}
}

// castBase is what so much wall stands on.
func castBase(b design.Bed, cat *catalog.Catalog, line measure.Length) frame.Base {
	thick, use := b.OptionLength(thickKey), usually(cat)
	base := frame.Base{
		Bed:    b.ID,
		Line:   line,
		Thick:  thick,
		Wide:   thick + 2*use.beside,
		Area:   measure.Over(line, thick+2*use.beside),
		Seat:   measure.Over(line, thick),
		Stone:  use.stone,
		Buried: buried(b),
	}
	if b.Options[baseKey] == "levelled" || b.On.Firm() {
		base.Stone = 0
	}
	return base
}

// castActs are forming, casting and stripping so much wall; again says what serves once more.
func castActs(
	b design.Bed, cat *catalog.Catalog, pour frame.Pour, line measure.Length, foot, again string, ids ...string,
) []frame.Act {
	p := cat.Precision(cat.Habits)
	day := ""
	if bag, err := cat.LooseOf(catalog.Mortar); err == nil && pour.Daily > 0 {
		mix := pour.Volume - pour.Volume/1000*measure.Volume(pour.Rubble)
		each := mix.CubicMetres() / line.Metres()
		made := float64(pour.Daily*pour.Batch) * bag.Volume.CubicMetres()
		reach := measure.Length(made / each * float64(measure.Metre))
		switch step := cat.Told(measure.Foot, 300*measure.Millimetre); {
		case reach >= line:
			day = fmt.Sprintf(" %s a day are more than this wall takes: form it all.", measure.Count(pour.Daily, "mix"))
		case reach < step:
			day = fmt.Sprintf(" %s a day fill about %s of it: form no more than that at a time.",
				measure.Count(pour.Daily, "mix"), p.Short(reach))
		default:
			day = fmt.Sprintf(" %s a day fill about %s of it: form no more than that at a time.",
				measure.Count(pour.Daily, "mix"), p.Feet(reach/step*step))
		}
	}
	held, tools := "held by stakes outside", []string{"hammer", "tin snips", "string"}
	if b.On.Firm() {
		held = "held by stakes outside, wedged between blocks since none can be driven here"
		tools = append(tools, "blocks to wedge the stakes")
	}
	return []frame.Act{
		{
			Verb:  frame.Lay,
			Of:    "form",
			Title: "Stand the form",
			Where: foot,
			Fits:  []string{b.ID + ".flashing", b.ID + ".stakes"},
			Tools: tools,
			Note: fmt.Sprintf(
				"Two strips %s apart, lapped a hand and %s, every 2 ft (600 mm) and every foot"+
					" (300 mm) on curves. Mark the top on the inside with a level: water finds the low place.%s%s",
				p.Short(b.OptionLength(thickKey)),
				held,
				day,
				again,
			),
		},
		{
			Verb:  frame.Lay,
			Of:    "mix",
			Parts: ids,
			Tools: []string{"mixing tub", "hoe", "bucket of water", "a stick", "gloves"},
			Title: "Fill it",
			Where: "in layers a hand deep",
			Note: "Work the mortar round each piece of rubble with a stick, and keep rubble two fingers off the" +
				" face. End a day's pour on a slope, never on an upright face: the next day's holds on it. What mix" +
				" is left over makes bricks.",
		},
		{
			Verb:  frame.Lay,
			Of:    "strips",
			Tools: []string{"float", "sheeting", "caps for the stakes' ends"},
			Title: "Float the top and strip it",
			Where: "the next day",
			Note: "Float the top smooth as it stiffens. Take the strips off after a day, keep the wall damp and" +
				" shaded for a week, and put caps on stakes that stay.",
		},
	}
}
