package web

import (
	"fmt"
	"html/template"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/fill"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/draw"
)

// fillStage is what the beds are filled with: layer by layer, how much, and how it comes.
var fillStage = stage{Key: "fill", Name: "Fill", About: "What goes in, layer by layer", Decides: true,
	Tells: []string{"over-filler", "mulch-high", "liner-food", "trough-earth", "shallow"},
	Draws: (*benchPage).fillDrawing, Fields: (*benchPage).fillFields, Under: "under-fill",
	Caption: "cut through from front to back", Saves: "fill.svg", Shows: "layer:"}

// fillView is a bed's layers as they are changed one by one, and what all beds take.
type fillView struct {
	Layers    []layerView // the top one first, as they lie
	Materials []catalog.Material
	Error     string
	Presets   []*remedyView
	Needs     []needView
	Takes     bool          // the bed has layers to decide
	Heaps     template.HTML // where they lie; "" where nothing comes loose
	Nowhere   []string      // heaps that do not fit on the plot
	Sheets    []sheetView   // what lies below and against the soil of the bed in hand
}

// sheetView is how one sheet lies.
type sheetView struct {
	Name, Place, Words string
	Wide, Thin         template.HTML
}

type layerView struct {
	N                  int
	Words, Depth, Told string
	Was                string // how deep it is
	Of                 string // the one material, "" of a mix
	Top                bool
}

type needView struct {
	Name, Told string
	Ways       []wayTold
}

type wayTold struct {
	ID, Name, Told, Cost string
	On, Bag, Cheapest    bool
}

// fillDrawing draws the bed in hand cut through.
func (b *benchPage) fillDrawing(refused) {
	b.Wide = template.HTML(draw.Fill(b.Plan, b.Bed, draw.Sheet{W: 860, H: 470, Font: 17}))
	b.Narrow = template.HTML(draw.Fill(b.Plan, b.Bed, draw.Sheet{W: 360, H: 400, Font: 14}))
}

// fillFields are the layers of the bed in hand, and what is bought for all of them.
func (b *benchPage) fillFields(no refused) {
	v := &fillView{}
	b.Fill = v
	pr, sys, cat := b.Plan.Shop.Precision(), b.Plan.Shop.Catalog.System, b.Plan.Shop.Catalog
	bed, err := b.Plan.Design.Bed(b.Bed)
	if err != nil {
		return
	}
	_, v.Takes = design.FieldOf(*bed, "filling")
	v.Materials = cat.Materials
	for key, why := range no.reasons {
		if strings.HasPrefix(key, "layer:") {
			v.Error = why
		}
	}
	for _, l := range b.Plan.Fill.Laid {
		if l.Bed != b.Bed {
			continue
		}
		lv := layerView{N: l.N, Words: l.Words, Depth: pr.Short(l.Depth), Was: pr.Short(l.Depth), Top: l.Top,
			Told: sys.Volume(l.Volume) + ", " + sys.Mass(b.Plan.Fill.MassOf(l, cat)) + " wet"}
		if len(l.Parts) == 1 {
			lv.Of = l.Parts[0].Material
		}
		if typed, ok := no.values[fmt.Sprintf("layer:%d", l.N)]; ok {
			lv.Depth = strings.TrimPrefix(typed, "depth ")
		}
		v.Layers = append([]layerView{lv}, v.Layers...)
	}
	if list := b.Plan.Heaps(); len(list) > 0 {
		v.Heaps = template.HTML(draw.Heaps(b.Plan, draw.Sheet{W: 420, H: 260, Font: 15}))
		for _, x := range list {
			if !x.Lies {
				v.Nowhere = append(v.Nowhere, fmt.Sprintf("The heap of %s, %s across, fits nowhere beside the beds: have it"+
					" tipped elsewhere, on a sheet, or take it in bags.", x.Name, pr.Feet(x.Across)))
			}
		}
	}
	for _, c := range b.Plan.Ground.Covers {
		if c.Sheet.Bed == b.Bed {
			v.Sheets = append(v.Sheets, sheetView{Name: c.Roll.Name, Place: c.Sheet.Place, Words: c.Words(pr),
				Wide: template.HTML(draw.Lining(b.Plan, c.Sheet.ID, draw.Sheet{W: 560, H: 250, Font: 14})),
				Thin: template.HTML(draw.Lining(b.Plan, c.Sheet.ID, draw.Sheet{W: 340, H: 240, Font: 12}))})
		}
	}
	b.presets(v, *bed)
	for _, n := range b.Plan.Fill.Needs {
		v.Needs = append(v.Needs, b.needTold(n))
	}
}

// presets are usual ways to fill a bed as deep as this one.
func (b *benchPage) presets(v *fillView, bed design.Bed) {
	for _, u := range fill.Usuals(bed, b.Plan.Shop.Catalog, b.Plan.Shop.Precision()) {
		rv := &remedyView{Label: u.Label, Note: u.Note}
		for _, e := range u.Edits {
			rv.Set = append(rv.Set, e.Bed+">"+e.Field+"="+e.Value)
		}
		b.ask(func(o plan.Outcome) { rv.Effect, rv.Vain = weighed(o.Changes), o.Err != nil }, u.Edits...)
		v.Presets = append(v.Presets, rv)
	}
}

// weighed is what another filling does to the price, the weight and what is ordered: by these they are compared.
func weighed(changes []plan.Change) []plan.Change {
	var keep []plan.Change
	for _, key := range []string{"total", "weight", "soil"} {
		for _, ch := range changes {
			if ch.Key == key {
				keep = append(keep, ch)
			}
		}
	}
	return keep
}

// needTold is what is bought of one material, and the ways it comes.
func (b *benchPage) needTold(n fill.Need) needView {
	sys, cur := b.Plan.Shop.Catalog.System, b.Plan.Shop.Currency()
	v := needView{Name: n.Material.Name, Told: sys.Volume(n.Order) + " loose"}
	if len(n.Ways) == 0 {
		v.Told += ", to be found"
	}
	if n.Owned > 0 {
		v.Told += ", " + sys.Volume(n.Owned) + " of it there already"
	}
	for i, w := range n.Ways {
		t := wayTold{ID: w.Fill.ID, Name: w.Fill.Name, Cost: cur.Format(w.Cost()), On: i == n.Chosen,
			Bag: w.Fill.Kind == catalog.Bag, Cheapest: i == n.Cheapest && len(n.Ways) > 1}
		if t.Bag {
			t.Told = measure.Count(w.Packs, "bag") + " to buy"
		} else {
			t.Told = sys.Volume(w.Bought) + ", delivery " + cur.Format(w.Delivery) + " with it"
			if w.Loads > 1 {
				t.Told += ", in " + w.Brought(sys)
			}
		}
		if w.Packs == 0 {
			t.Told = "none to buy"
		}
		v.Ways = append(v.Ways, t)
	}
	return v
}
