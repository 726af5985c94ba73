package water

import (
	"fmt"
	"math"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/site"
)

// Kit is what drip is laid with in a region (usual sizes, common practice).
type Kit struct {
	Each    float64        // flow of an emitter at its rated head, l/h
	Rated   float64        // that head, m
	Spacing measure.Length // of emitters
	Inside  measure.Length // of line and pipe
	Stake   measure.Length // one to so much
}

// KitOf is a region's.
func KitOf(cat *catalog.Catalog) Kit {
	if cat.System == measure.Imperial {
		return Kit{0.5 * 3.785411784, regulated, measure.Foot, measure.Inch * 3 / 5, 3 * measure.Foot}
	}
	return Kit{2.0, regulated, 300 * measure.Millimetre, 13_600 * measure.Micrometre, measure.Metre}
}

// Rules of watering.
const (
	// grown is how much more than grass a bed of vegetables takes in mid-season: FAO-56 Table 12, from
	// memory: 1.00 to 1.15, 1.05 taken.
	grown = 1.05
	// dripped is what of the water reaches the roots: 0.85 to 0.95 (common practice).
	dripped, poured = 0.90, 0.80
	// sprinkled is what of a sprinkler's does: 0.65 to 0.80 (common practice), 0.70 taken.
	sprinkled = 0.70
	// walled is how much more a bed above ground takes: 10 to 30 % (common practice).
	walled = 1.2
	// usable is the share of a measured flow that is planned on (common practice).
	usable = 0.75
	// allowed is the share of the head that may be lost to the last emitter: a fifth, which is a tenth
	// of its flow.
	allowed = 0.20
	// regulated is what a regulator leaves of a house's pressure, m: 25 psi, 170 kPa.
	regulated = 17.58
	// fittings add so much to what pipes lose (common practice).
	fittings = 1.10
	// slack is how much more pipe is cut than is measured.
	slack = 1.10
	// soaksIn is how fast a loose soil takes water, mm/h: FAO Training Manual 5 has 10 to 20 for loam.
	soaksIn = 15.0
)

// Weathers are the needs of grass in a dry week at midsummer, mm a day: FAO-56 Table 2 (from memory).
var Weathers = map[string]float64{"cool": 3, "mild": 4, "warm": 5, "hot": 7}

// Week is what a bed needs in a week, litres: so many mm a day off its surface, more for what grows there
// and for its sides, and for what does not reach the roots.
func Week(area measure.Area, mm, more, reaches float64) float64 {
	return mm * grown * more * 7 * area.SquareMetres() / reaches
}

// Line is one drip line, in its bed.
type Line struct {
	From, To frame.Spot
	Emitters int
}

// Length of it.
func (l Line) Length() measure.Length { return measure.Hypot(l.To.U-l.From.U, l.To.V-l.From.V) }

// Bed is the watering of one bed that stands on the plot.
type Bed struct {
	Bed, Name string
	N, Stand  int
	By        string // "can", "hose", "sprinkler", "drip"
	Area      measure.Area
	Week      float64 // litres
	Lines     []Line
	Apart     measure.Length // of the lines
	Header    [2]frame.Spot
	Riser     measure.Length
	Emitters  int
	Flow      float64    // l/h
	Lost      float64    // m of water, in its worst line
	Entry     frame.Spot // on the plot, where the pipe comes in
	Zone      int
}

// Zone is the beds that run at once.
type Zone struct {
	Beds    []int
	Flow    float64 // l/h
	Lost    float64 // m of water, to the last emitter
	Minutes float64 // a run
	Starts  int
}

// Part is so many of a fitting, and what for.
type Part struct {
	Fitting catalog.Fitting
	Count   int
	Length  measure.Length // of what is cut from a roll
	For     string
}

// Plan is the watering of a project.
type Plan struct {
	Kit      Kit
	Beds     []Bed
	Zones    []Zone
	Tap      frame.Spot
	Pipes    [][2]frame.Spot // on the plot
	Main     measure.Length
	Parts    []Part
	Supply   float64 // l/h to plan on
	Head     float64 // m, at the inlet
	Days     int
	Flowing  float64 // l/h of an emitter at that head
	Drip     bool
	Corners  int
	Branches int
}

// Input is what watering is reckoned from.
type Input struct {
	Beds    []design.Bed
	Frames  []frame.Frame
	Site    *site.Layout
	Water   design.Water
	Catalog *catalog.Catalog
}

// Work lays out the watering of all beds that stand on the plot.
func Work(in Input) (Plan, error) {
	p := Plan{Kit: KitOf(in.Catalog), Days: in.Water.Days, Tap: frame.Spot{U: in.Water.TapRight, V: in.Water.TapOut}}
	flow, err := design.ReadFlow(in.Water.Flow)
	if err != nil {
		return p, err
	}
	p.Supply, p.Head = flow*60*usable, regulated
	if in.Water.Head > 0 {
		p.Head = min(in.Water.Head.Metres(), regulated)
	}
	p.Flowing = p.Kit.Each * math.Sqrt(p.Head/p.Kit.Rated)
	mm := Weathers[in.Water.Weather]
	for i, s := range in.Site.Stands {
		k := slices.IndexFunc(in.Beds, func(b design.Bed) bool { return b.ID == s.Bed })
		if k < 0 || len(in.Frames[k].Openings) == 0 {
			continue
		}
		b := p.bed(in, &in.Beds[k], &in.Frames[k], s, mm)
		b.Stand = i
		p.Beds = append(p.Beds, b)
		p.Drip = p.Drip || b.By == "drip"
	}
	if err := p.sprinklers(in.Catalog); err != nil {
		return p, err
	}
	if p.Drip {
		p.route(in.Site)
		p.zones()
		return p, p.parts(in.Catalog)
	}
	return p, nil
}

// reaches is the share of the water that gets to a bed's roots.
func (b Bed) reaches() float64 {
	switch b.By {
	case "drip":
		return dripped
	case "sprinkler":
		return sprinkled
	}
	return poured
}

// Tin is how deep a run of a sprinkler fills a tin with straight sides, so many days a week, mm.
func (b Bed) Tin(days int) float64 { return b.Week / b.Area.SquareMetres() / float64(max(1, days)) }

// sprinklers puts one on the list for every bed that is watered so.
func (p *Plan) sprinklers(cat *catalog.Catalog) error {
	n := 0
	for _, b := range p.Beds {
		if b.By == "sprinkler" {
			n++
		}
	}
	if n == 0 {
		return nil
	}
	f, err := cat.Fitting("sprinkler")
	if err != nil {
		return fmt.Errorf("water: %w", err)
	}
	p.Parts = append(p.Parts, Part{Fitting: f, Count: n, For: "one to a bed, or moved from bed to bed"})
	return nil
}

func (p *Plan) bed(in Input, d *design.Bed, f *frame.Frame, s site.Stand, mm float64) Bed {
	b := Bed{Bed: d.ID, Name: d.Name, N: s.N, By: string(d.Water)}
	for _, o := range f.Openings {
		if o.Round != nil {
			b.Area += frame.OutlineArea(o.Round)
		} else {
			b.Area += measure.Over(o.Hi.U-o.Lo.U, o.Hi.V-o.Lo.V)
		}
	}
	b.Week = Week(b.Area, mm, walled, b.reaches())
	if b.By != "drip" {
		return b
	}
	b.Apart = apart(d, in.Catalog)
	if d.DripApart > 0 {
		b.Apart = d.DripApart
	}
	for _, c := range f.Cavities {
		if !c.Pot {
			b.Lines = append(b.Lines, lines(c.Outline, b.Apart, p.Kit.Spacing)...)
			b.Riser = max(b.Riser, c.Top)
		}
	}
	if len(b.Lines) == 0 { // pots: one emitter to each, on a line through them
		for _, c := range f.Cavities {
			lo, hi := c.Outline[0], c.Outline[0]
			for _, q := range c.Outline {
				lo, hi = frame.Spot{U: min(lo.U, q.U), V: min(lo.V, q.V)}, frame.Spot{U: max(hi.U, q.U), V: max(hi.V, q.V)}
			}
			mid := (lo.V + hi.V) / 2
			b.Lines = append(b.Lines, Line{frame.Spot{U: lo.U, V: mid}, frame.Spot{U: hi.U, V: mid}, 1})
			b.Riser = max(b.Riser, c.Top)
		}
	}
	b.Riser += 50 * measure.Millimetre
	lo, hi := b.Lines[0].From, b.Lines[0].From
	for _, l := range b.Lines {
		b.Emitters += l.Emitters
		b.Lost = max(b.Lost, Lateral(l.Emitters, p.Flowing, p.Kit.Spacing.Metres(), p.Kit.Inside.Metres()))
		lo, hi = frame.Spot{U: min(lo.U, l.From.U), V: min(lo.V, l.From.V)},
			frame.Spot{U: max(hi.U, l.From.U), V: max(hi.V, l.From.V)}
	}
	b.Header = [2]frame.Spot{{U: lo.U, V: lo.V}, {U: lo.U, V: hi.V}}
	b.Flow = float64(b.Emitters) * p.Flowing
	put := s.On(f)
	a, c := put(b.Header[0]), put(b.Header[1])
	b.Entry = a
	if manhattan(c, p.Tap) < manhattan(a, p.Tap) {
		b.Entry = c
	}
	return b
}

// apart is how far lines lie apart where nothing is said, as the soil on top spreads water: sand and soilless
// mixes 8 to 12 in (200 to 300 mm), the middle taken, loam 12 to 18 in (300 to 450 mm), the lower end (common
// practice).
func apart(bed *design.Bed, cat *catalog.Catalog) measure.Length {
	layers := bed.LayersOf(cat)
	open, all := 0, 0
	for _, s := range layers[len(layers)-1].Parts {
		m, err := cat.Material(s.Material)
		if all += s.Parts; s.Material == "sand" || err == nil && m.Kind == catalog.Light {
			open += s.Parts
		}
	}
	if 2*open >= all {
		return cat.Told(10*measure.Inch, 250*measure.Millimetre)
	}
	return cat.Told(12*measure.Inch, 300*measure.Millimetre)
}

// lines are drip lines along a bed from left to right, as many as lie so far apart at most, the outer
// ones half as far from the sides; each keeps half an emitter's spacing from the ends.
func lines(outline []frame.Spot, apart, spacing measure.Length) []Line {
	lo, hi := outline[0], outline[0]
	for _, q := range outline {
		lo, hi = frame.Spot{U: min(lo.U, q.U), V: min(lo.V, q.V)}, frame.Spot{U: max(hi.U, q.U), V: max(hi.V, q.V)}
	}
	deep := hi.V - lo.V
	n := max(1, int((deep+apart-1)/apart))
	var list []Line
	for k := range n {
		v := lo.V + deep*measure.Length(2*k+1)/measure.Length(2*n)
		var at []measure.Length
		for i, a := range outline {
			b := outline[(i+1)%len(outline)]
			if (a.V <= v) == (b.V <= v) {
				continue
			}
			at = append(at, a.U+measure.Length(float64(v-a.V)/float64(b.V-a.V)*float64(b.U-a.U)))
		}
		slices.Sort(at)
		for i := 0; i+1 < len(at); i += 2 {
			long := at[i+1] - at[i]
			count := int((long + spacing/2) / spacing)
			if count == 0 {
				continue
			}
			list = append(list, Line{frame.Spot{U: at[i] + 25*measure.Millimetre, V: v},
				frame.Spot{U: at[i] + long/2 + spacing*measure.Length(count)/2 - spacing/4, V: v}, count})
		}
	}
	return list
}

func manhattan(a, b frame.Spot) measure.Length { return abs(a.U-b.U) + abs(a.V-b.V) }

func abs(l measure.Length) measure.Length { return max(l, -l) }

// zones shares the beds out: in the order they lie from the tap, as many at once as the supply feeds
// and the pipe carries without losing more than is allowed.
func (p *Plan) zones() {
	for i := range p.Beds {
		b := &p.Beds[i]
		if b.By != "drip" {
			continue
		}
		if n := len(p.Zones); n > 0 {
			z := &p.Zones[n-1]
			if flow := z.Flow + b.Flow; flow <= p.Supply && p.lostWith(append(slices.Clip(z.Beds), i)) <= allowed*p.Head {
				z.Beds, z.Flow = append(z.Beds, i), flow
				continue
			}
		}
		p.Zones = append(p.Zones, Zone{Beds: []int{i}, Flow: b.Flow})
	}
	for k := range p.Zones {
		z := &p.Zones[k]
		z.Lost = p.lostWith(z.Beds)
		week, area := 0.0, 0.0
		for _, i := range z.Beds {
			p.Beds[i].Zone = k
			week, area = max(week, p.Beds[i].Week/p.Beds[i].Flow), area+p.Beds[i].Area.SquareMetres()
		}
		z.Minutes = week * 60 / float64(p.Days)
		z.Starts = 1
		if rate := z.Flow / area; rate > soaksIn && rate*z.Minutes/60 > soaksIn/2 {
			z.Starts = 2
		}
	}
}

// lostWith is what is lost to the last emitter when some beds run at once, m: all of their flow goes
// the whole way to the farthest of them, which is no less than what is lost.
func (p *Plan) lostWith(beds []int) float64 {
	flow, worst, far := 0.0, 0.0, measure.Length(0)
	for _, i := range beds {
		b := p.Beds[i]
		flow, worst = flow+b.Flow, max(worst, b.Lost)
		far = max(far, manhattan(p.Tap, b.Entry)+b.Riser)
	}
	return loss(flow, far.Metres()*slack, p.Kit.Inside.Metres())*fittings + worst
}

// Round is a run's minutes, rounded up as a timer is set.
func (z Zone) Round() int { return int(math.Ceil(z.Minutes/float64(z.Starts) - 1e-9)) }

// parts counts the fittings, piece by piece.
func (p *Plan) parts(cat *catalog.Catalog) error {
	add := func(id string, count int, length measure.Length, what string) error {
		if count == 0 && length == 0 {
			return nil
		}
		f, err := cat.Fitting(id)
		if err != nil {
			return fmt.Errorf("water: %w", err)
		}
		p.Parts = append(p.Parts, Part{f, count, length, what})
		return nil
	}
	var drip, solid measure.Length
	tees, elbows, ends, stakes, stands, n := p.Branches, p.Corners, 0, 0, 0, 0
	solid = p.Main
	for _, b := range p.Beds {
		if b.By != "drip" {
			continue
		}
		stands++
		elbows += 2 // up at the wall, and over into the bed
		solid += b.Riser
		head := abs(b.Header[1].V - b.Header[0].V)
		for _, l := range b.Lines {
			head += l.From.U - b.Header[0].U
			drip += l.Length()
			stakes += int((l.Length() + p.Kit.Stake - 1) / p.Kit.Stake)
		}
		solid += head
		n += len(b.Lines)
		ends += len(b.Lines)
		if len(b.Lines) > 1 {
			tees += len(b.Lines) - 1
			elbows += 2
			stakes += int((head + p.Kit.Stake - 1) / p.Kit.Stake)
		}
	}
	drip, solid = cut(drip), cut(solid)
	joins := 0
	for id, l := range map[string]measure.Length{"drip-line": drip, "drip-pipe": solid} {
		if f, err := cat.Fitting(id); err == nil {
			joins += int((l+f.Each-1)/f.Each) - 1
		}
	}
	zones := len(p.Zones)
	for _, x := range []struct {
		id     string
		count  int
		length measure.Length
		what   string
	}{
		{"drip-line", 0, drip, measure.Count(n, "line") + " in the beds, and a tenth more"},
		{"drip-pipe", 0, solid, "from the tap, up the inside of the walls and along the heads, and a tenth more"},
		{"drip-tee", tees, 0, "where lines and branches leave"},
		{"drip-elbow", elbows, 0, "round corners, up walls and over into the beds"},
		{"drip-end", ends, 0, "one to each line: it is opened to flush it"},
		{"drip-joiner", joins, 0, "where a roll ends"},
		{"drip-stake", stakes, 0, "one to about every yard (metre) of line"},
		{"drip-breaker", 1, 0, "at the tap: keeps what is in the bed out of the drinking water"},
		{"drip-timer", zones, 0, "one to each group of beds that runs at once"},
		{"drip-filter", zones, 0, "behind each timer"},
		{"drip-regulator", p.regulators(zones), 0, "behind each filter"},
		{"drip-adaptor", zones, 0, "from the tap's thread to pipe"},
	} {
		if err := add(x.id, x.count, x.length, x.what); err != nil {
			return err
		}
	}
	return nil
}

// regulators are none where a butt gives less pressure than they leave.
func (p *Plan) regulators(zones int) int {
	if p.Head < regulated {
		return 0
	}
	return zones
}

// cut is a length with the slack that pipe is cut with.
func cut(l measure.Length) measure.Length { return measure.Length(float64(l) * slack) }
