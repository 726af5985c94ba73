package web

import (
	"context"
	"encoding/json"
	"fmt"
	"html/template"
	"slices"
	"strconv"
	"strings"
	"time"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/planting"
	"chamfer/draw"
)

// plantsStage is what grows where, and when.
var plantsStage = stage{Key: "plants", Name: "Plants", About: "What grows where, and when", Decides: true,
	Tells: []string{"plants-none", "plants-over", "plants-shallow", "plants-shade", "plants-support", "plants-family",
		"plants-beside", "plants-tall", "plants-path", "plants-most"},
	Draws: (*benchPage).plantsDrawing, Under: "under-plants", Caption: "what grows, from above", Saves: "plants.svg",
	Body: func(ctx context.Context, s *Server, b *benchPage, no refused) (any, error) {
		v := b.plantsBody(no)
		photos, err := s.photosOf(ctx, b, "")
		if err != nil {
			return v, err
		}
		for i := range v.Seasons {
			y := &v.Seasons[i]
			for _, p := range photos {
				if p.Key == y.Key {
					p.Of = ""
					y.Photos = append(y.Photos, p)
				}
			}
		}
		if out, ok := s.laid.Load(b.ID); ok && b.Laid {
			v.Laid = b.laidOut(out.(plan.Planted))
		}
		return v, nil
	}}

// plantsView is what lies under the drawing: what is planted, patch by patch.
type plantsView struct {
	Patches []patchView
	Year    template.HTML
	Thin    template.HTML
	Work    []workOf
	Frosts  string
}

type patchView struct {
	N                          int
	Name, Holds, Sow, Sun      string
	Crop, How                  string
	Soil                       int
	X, Y, Wide, Deep           string
	Kept, Held                 bool
	Surfaces                   []string
	Error, Each, Height, Depth string
	Sown, Set, Part            string // days of, and how much of the bed it takes
}

type workOf struct{ When, What, Why string }

type plantsBody struct {
	Wants   []wantView
	Error   string
	Crops   []cropGroup
	Soils   []string
	New     patchView
	Laid    *laidView
	Seasons []seasonView
	Year    int
	Empty   bool
	Bed     string
	Still   *stillView
	Own     []cropView
	OwnNew  cropView
	OwnNo   bool // one of them, or the table, was refused
	TableNo string
}

type wantView struct {
	Crop, Name, Error string
	N, Was            string
}

type cropGroup struct {
	Name  string
	Crops []planting.Crop
}

type laidView struct {
	Claim string
	Left  []string
	Why   []string
}

type seasonView struct {
	Year    int
	Key     string // that photos of it are kept by
	Grown   []grownView
	Photos  []photoView
	PhotoNo string
}

type grownView struct {
	N               int
	Name, Got, Note string
	Sown, Set       string
	Failed          bool
	Error           string
}

// growing is what grows in the bed in hand.
func (b *benchPage) growing() (g plan.Growing, bed *design.Bed) {
	i := slices.IndexFunc(b.Plan.Growing, func(g plan.Growing) bool { return g.Bed == b.Bed })
	bed, err := b.Plan.Design.Bed(b.Bed)
	if i < 0 || err != nil {
		return plan.Growing{}, nil
	}
	return b.Plan.Growing[i], bed
}

// plantsDrawing draws the bed with what grows in it, and lists that.
func (b *benchPage) plantsDrawing(no refused) {
	link := func(key string, pairs ...string) string {
		s := strings.ReplaceAll(b.Link(append([]string{key, "WHICH"}, pairs...)...), "%", "%%")
		return strings.Replace(s, "WHICH", "%s", 1)
	}
	held := b.Patch
	if held == "" {
		held = b.Cell
	}
	sheet := draw.Sheet{W: 860, H: 470, Font: 17, Pick: link("patch", "cell", "") + "#patch-in-hand",
		Edit: link("cell", "patch", "") + "#plant-here", Held: held}
	b.Wide = template.HTML(draw.Plants(b.Plan, b.Bed, sheet))
	sheet.W, sheet.H, sheet.Font = 360, 420, 14
	b.Narrow = template.HTML(draw.Plants(b.Plan, b.Bed, sheet))
	g, bed := b.growing()
	v := &plantsView{}
	b.Plants = v
	if bed == nil {
		return
	}
	pr := b.Plan.Shop.Precision()
	for _, x := range g.Patches {
		p := bed.Plants[x.N]
		seeds, set := x.Seeds()
		row := patchView{N: x.N, Name: x.Crop.Name, Holds: measure.Count(x.Plants(), "plant"), Crop: p.Crop, How: p.How,
			Soil: p.Soil, X: pr.Feet(p.X), Y: pr.Feet(p.Y), Wide: pr.Feet(p.Wide), Deep: pr.Feet(p.Deep), Kept: p.Kept,
			Held: b.Patch == fmt.Sprint(x.N), Sun: fmt.Sprintf("%.1f h of sun", x.Hours),
			Each: pr.Feet(x.Crop.Each), Height: pr.Feet(x.Crop.High), Depth: pr.Feet(x.Crop.Deep),
			Sown: p.Sown, Set: p.Set, Part: fmt.Sprintf("%.0f %%", 100*g.Part(x)),
			Error: no.why(fmt.Sprintf("plant:%d", x.N))}
		if n := bed.Times(); n > 1 {
			row.Holds += fmt.Sprintf(" in each of %d beds", n)
			seeds, set = seeds*n, set*n
		}
		switch {
		case seeds > 0 && set > 0:
			row.Sow = fmt.Sprintf("sow %d seeds, or buy %d", seeds, set)
		case seeds > 0:
			row.Sow = fmt.Sprintf("sow %d seeds", seeds)
		case set > 0:
			row.Sow = fmt.Sprintf("buy %d", set)
		}
		for k, s := range g.Surfaces {
			row.Surfaces = append(row.Surfaces, cmpOr(s.Name, fmt.Sprintf("surface %d", k+1)))
		}
		v.Patches = append(v.Patches, row)
	}
	b.yearOf(v)
}

// yearOf draws the bed's year.
func (b *benchPage) yearOf(v *plantsView) {
	season := b.Plan.SeasonOf(b.Bed, time.Now().Year())
	rows := draw.YearRows(season.Crops, season.Bed)
	v.Year = template.HTML(draw.Year(rows, season.Frosts, draw.Sheet{W: 860, Font: 16}))
	v.Thin = template.HTML(draw.Year(rows, season.Frosts, draw.Sheet{W: 360, Font: 14}))
	say := b.Plan.Shop.Speech()
	v.Frosts = fmt.Sprintf("Last frost %s, first %s", say.Day(season.Frosts.Last), say.Day(season.Frosts.First))
	for _, t := range season.All() {
		what := t.Do
		if t.Crop != "" {
			what += ": " + t.Crop
		}
		when := say.Day(t.From)
		if t.To.After(t.From) {
			when += " to " + say.Day(t.To)
		}
		v.Work = append(v.Work, workOf{when, what, t.Why})
	}
}

func (b *benchPage) plantsBody(no refused) plantsBody {
	g, bed := b.growing()
	v := plantsBody{Year: time.Now().Year(), Error: no.why("plant:all")}
	for _, kind := range []struct{ key, name string }{{"veg", "Vegetables"}, {"herb", "Herbs"}, {"flower", "Flowers"},
		{"fruit", "Small fruit"}} {
		group := cropGroup{Name: kind.name}
		for _, c := range b.Plan.Crops {
			if c.Kind == kind.key {
				group.Crops = append(group.Crops, c)
			}
		}
		v.Crops = append(v.Crops, group)
	}
	if bed == nil || len(g.Surfaces) == 0 {
		v.Empty = true
		return v
	}
	v.Bed = bed.Name
	for k, s := range g.Surfaces {
		v.Soils = append(v.Soils, cmpOr(s.Name, fmt.Sprintf("surface %d", k+1)))
	}
	for _, w := range bed.Wants {
		c, _ := b.Plan.Crops.Named(w.Crop)
		row := wantView{Crop: w.Crop, Name: c.Name, N: w.Text(), Was: w.Text(), Error: no.why("want:" + w.Crop)}
		if typed, ok := no.values["want:"+w.Crop]; ok {
			row.N = typed
		}
		v.Wants = append(v.Wants, row)
	}
	v.New = b.newPatch(g, no)
	v.Still = b.stillFits(v.Crops)
	b.ownCrops(&v, no)
	for n, x := range bed.Grown {
		c, _ := b.Plan.Crops.Named(x.Crop)
		k := slices.IndexFunc(v.Seasons, func(s seasonView) bool { return s.Year == x.Year })
		if k < 0 {
			k = len(v.Seasons)
			v.Seasons = append(v.Seasons, seasonView{Year: x.Year, Key: grownKey(bed.ID, x.Year)})
			if b.Step == v.Seasons[k].Key {
				v.Seasons[k].PhotoNo = no.why("photo")
			}
		}
		v.Seasons[k].Grown = append(v.Seasons[k].Grown, grownView{N: n, Name: c.Name, Got: x.Got, Note: x.Note,
			Failed: x.Failed, Sown: x.Sown, Set: x.Set,
			Error: no.why(fmt.Sprintf("grown:%d.got", n))})
	}
	slices.SortFunc(v.Seasons, func(a, b seasonView) int { return b.Year - a.Year })
	return v
}

// newPatch is where the next crop goes: on the cell that was pressed, or the first that is free.
func (b *benchPage) newPatch(g plan.Growing, no refused) patchView {
	pr := b.Plan.Shop.Precision()
	v := patchView{N: -1, Error: no.why("plant:add")}
	soil, column, row := 0, 0, 0
	if parts := strings.Split(b.Cell, "."); len(parts) == 3 {
		soil, _ = strconv.Atoi(parts[0])
		column, _ = strconv.Atoi(parts[1])
		row, _ = strconv.Atoi(parts[2])
	}
	if soil < 0 || soil >= len(g.Surfaces) || column < 0 || column >= g.Surfaces[soil].Columns || row < 0 ||
		row >= g.Surfaces[soil].Rows {
		soil, column, row = 0, 0, 0
	}
	s := g.Surfaces[soil]
	lo, hi := s.Cell(column, row)
	v.Soil, v.X, v.Y = soil, pr.Feet(lo.U-s.Lo.U), pr.Feet(lo.V-s.Lo.V)
	v.Wide, v.Deep = pr.Feet(hi.U-lo.U), pr.Feet(hi.V-lo.V)
	if typed, ok := no.values["plant:add"]; ok {
		parts := append(strings.Split(typed, ";"), make([]string, 6)...)
		v.Crop = strings.TrimSpace(parts[0])
		v.Soil, _ = strconv.Atoi(strings.TrimSpace(parts[1]))
		v.X, v.Y, v.Wide, v.Deep = parts[2], parts[3], parts[4], parts[5]
	}
	return v
}

// laidOut explains what was laid out just now, where the bed is still as it came out.
func (b *benchPage) laidOut(out plan.Planted) *laidView {
	_, bed := b.growing()
	if bed == nil || out.Edit.Bed != bed.ID {
		return nil
	}
	if now, err := json.Marshal(bed.Plants); err != nil || string(now) != out.Edit.Value {
		return nil
	}
	v := &laidView{Claim: out.Claim()}
	for _, w := range out.Left {
		v.Left = append(v.Left, fmt.Sprintf("%d of %s", w.N, strings.ToLower(w.Crop.Name)))
	}
	for _, p := range out.Placed {
		v.Why = append(v.Why, p.Crop.Name+": "+strings.Join(p.Why, "; "))
	}
	return v
}
