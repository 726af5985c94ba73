package review

import (
	"fmt"

	"chamfer/core/design"
	"chamfer/core/measure"
)

var (
	_ = check(195, (*reviewer).filler, "over-filler")
	_ = check(196, (*reviewer).mulchHigh, "mulch-high")
)

// goodOver is the least depth of good soil over filler: 10 in, 250 mm; 12 is better (common practice).
const goodOverInch, goodOverMetric = 10 * in, 250 * mm

// filler checks what soil is left over branches, boxes and straw: roots want it, and filler sinks.
func (r *reviewer) filler() {
	layers := r.Bed.LayersOf(r.Catalog)
	high := -1
	good := r.Bed.Soil
	for i, l := range layers {
		if l.Rough(r.Catalog) {
			high = i
		}
	}
	if high < 0 {
		return
	}
	for _, l := range layers[:high+1] {
		good -= l.Depth
	}
	least := r.Catalog.Told(goodOverInch, goodOverMetric)
	rule := "Filler takes nitrogen where it touches roots, and sinks: 10 to 12 in (250 to 300 mm) of good soil stay" +
		" over it."
	if both, ok := roots[r.Bed.Grows]; ok && r.Catalog.Told(both[0], both[1]) > least {
		least = r.Catalog.Told(both[0], both[1])
		rule = "What is to grow here roots deeper than that; filler takes nitrogen where it touches roots, and sinks."
	}
	if good >= least {
		return
	}
	f := Finding{Code: "over-filler", Severity: Warning,
		Text: fmt.Sprintf("Over the %s there are %s of soil, and roots want %s.", layers[high].Words(r.Catalog),
			r.p.Short(good), r.p.Short(least)),
		Why: Why{Given: []string{r.p.Feet(r.Bed.Soil) + " of soil in all"}, Rule: rule,
			Result: "The least is " + r.p.Short(least) + ".", Source: "common practice"}}
	less := make([]design.Layer, 0, len(layers))
	short := least - good
	for i := len(layers) - 1; i >= 0; i-- { // from the top filler down
		l := layers[i]
		if take := min(short, l.Depth); i <= high && l.Rough(r.Catalog) {
			l.Depth, short = l.Depth-take, short-take
			if l.Depth < 25*measure.Millimetre {
				continue
			}
		}
		less = append([]design.Layer{l}, less...)
	}
	if short <= 0 {
		f.Remedies = append(f.Remedies, Remedy{"less filler, with " + r.p.Short(least) + " of soil over it",
			[]design.Edit{r.edit("filling", design.WriteLayers(less))}})
	}
	f.Remedies = append(f.Remedies, Remedy{"deeper soil on the same filler", r.to("soil", r.Bed.Soil+least-good)})
	r.report(f)
}

// mulchHigh looks at whether the mulch stays inside the rim.
func (r *reviewer) mulchHigh() {
	deep := r.Bed.MulchOf(r.Catalog)
	if deep <= r.Bed.Freeboard || !r.Bed.Mulched() {
		return
	}
	f := Finding{Code: "mulch-high", Severity: Note,
		Text: fmt.Sprintf("The mulch lies %s above the rim: rain and birds bring it onto the path.",
			r.p.Short(deep-r.Bed.Freeboard)),
		Why: Why{Given: []string{r.p.Short(deep) + " of mulch", "the soil " + r.p.Short(r.Bed.Freeboard) + " below the rim"},
			Rule: "Mulch stays where a rim stands as high as it lies.", Source: "common practice"}}
	if least := r.Catalog.Told(in, 25*mm); r.Bed.Freeboard >= least {
		f.Remedies = append(f.Remedies, Remedy{r.p.Short(r.Bed.Freeboard) + " of mulch", r.to("mulch_deep", r.Bed.Freeboard)})
	}
	r.report(f)
}
