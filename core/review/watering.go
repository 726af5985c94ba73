package review

import (
	"fmt"
	"slices"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/site"
	"chamfer/core/water"
)

var (
	_ = check(200, (*reviewer).dripped, "drip-short", "drip-far")
	_ = check(205, (*reviewer).trickled, "drip-trickle")
	_ = check(210, (*reviewer).alone, "not-laid-out")
)

// dripped looks at whether what the tap gives reaches the last emitter of a bed.
func (r *reviewer) dripped() {
	hose := Remedy{"water it by hose", []design.Edit{r.edit("water", string(design.ByHose))}}
	for _, z := range r.Water.Zones {
		i := slices.IndexFunc(z.Beds, func(b int) bool { return r.Water.Beds[b].Bed == r.Bed.ID })
		if i < 0 {
			continue
		}
		bed := r.Water.Beds[z.Beds[i]]
		if r.Water.Short(z) {
			f := Finding{Code: "drip-short", Severity: Warning,
				Text: fmt.Sprintf("Its drip takes %s an hour, and the tap may be counted on for %s.",
					water.Litres(z.Flow, r.p.System), water.Litres(r.Water.Supply, r.p.System)),
				Why: Why{Given: []string{measure.Count(bed.Emitters, "emitter"),
					"three quarters of what the bucket test gave"},
					Rule:   "Past what the tap gives every emitter gets less, the last of all least.",
					Source: "common practice"}}
			if apart := r.wider(bed, z.Flow); apart > 0 {
				f.Remedies = append(f.Remedies, Remedy{"lay its lines " + r.p.Short(apart) + " apart",
					r.to("drip_apart", apart)})
			}
			f.Remedies = append(f.Remedies, hose)
			r.report(f)
			return
		}
		if r.Water.Weak(z) {
			r.report(Finding{Code: "drip-far", Severity: Warning,
				Text: fmt.Sprintf("On the way to its last emitter %.1f kPa of %.0f are lost: the end of the bed gets less.",
					water.Kilopascals(z.Lost), water.Kilopascals(r.Water.Head)),
				Why: Why{Given: []string{r.p.Feet(r.Water.Main) + " of pipe on the plot",
					measure.Count(bed.Emitters, "emitter")},
					Rule: "A fifth of the head may be lost: that is a tenth of an emitter's flow. Bring the tap nearer, lay" +
						" thicker pipe, or set the butt higher.",
					Source: "Keller & Bliesner (from memory) for pipe; common practice"},
				Remedies: []Remedy{hose}})
			return
		}
	}
}

// wider is how far apart a bed's lines may lie so that as few are left as the tap feeds, 0 where that is farther
// than any soil spreads water: 24 in, 600 mm (common practice).
func (r *reviewer) wider(bed water.Bed, flow float64) measure.Length {
	rooms := 0
	for _, c := range r.Frame.Cavities {
		if !c.Pot {
			rooms++
		}
	}
	if rooms == 0 || bed.Apart == 0 {
		return 0
	}
	each := (len(bed.Lines) + rooms - 1) / rooms
	fewer := int(float64(each) * r.Water.Supply / flow)
	if fewer == 0 {
		return 0
	}
	wide := r.Catalog.Told(measure.Inch, 25*measure.Millimetre)
	apart := (bed.Apart*measure.Length(each)/measure.Length(fewer) + wide - 1) / wide * wide
	if apart > r.Catalog.Told(24*measure.Inch, 600*measure.Millimetre) {
		return 0
	}
	return apart
}

// trickled looks at the head of a butt, once for the project.
func (r *reviewer) trickled() {
	if !r.First || !r.Water.Trickles() {
		return
	}
	r.report(Finding{Code: "drip-trickle", Severity: Warning,
		Text: fmt.Sprintf("A butt %s up gives %.0f kPa: emitters drip at %s an hour, and timers with a diaphragm stay shut.",
			r.p.Feet(measure.Metres(r.Water.Head)), water.Kilopascals(r.Water.Head),
			water.Litres(r.Water.Flowing, r.p.System)),
		Why: Why{Rule: "Every 10 cm, 4 in, of height are 1 kPa; a timer with a ball valve opens without any.",
			Source: "hydrostatics; common practice"},
		Remedies: []Remedy{{"from the house's tap", []design.Edit{{Field: "water:head", Value: "0"}}}}})
}

// alone tells, once, of beds past those that are laid out one by one.
func (r *reviewer) alone() {
	if !r.First || r.Site == nil || r.Site.More == 0 {
		return
	}
	r.report(Finding{Code: "not-laid-out", Severity: Note,
		Text: fmt.Sprintf("%s do not stand on the plot: their ground, paths and drip are not reckoned.",
			measure.Count(r.Site.More, "bed")),
		Why: Why{Given: []string{fmt.Sprintf("%d beds in all", r.Site.More+len(r.Site.Stands))},
			Rule: fmt.Sprintf("The first %d are laid out one by one; boards, soil and what all cost are of every one of them.",
				site.Most),
			Source: "this program's limit"}})
}
