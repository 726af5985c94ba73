package plan

import (
	"fmt"
	"slices"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/planting"
)

// Season is a year of one bed.
type Season struct {
	Bed    []planting.Task
	Crops  []CropYear
	Frosts planting.Frosts
}

// CropYear is a crop's.
type CropYear struct {
	ID, Name string
	Tasks    []planting.Task
}

// All are all tasks, in the order of their days.
func (s Season) All() []planting.Task {
	list := slices.Clone(s.Bed)
	for _, c := range s.Crops {
		list = append(list, c.Tasks...)
	}
	return planting.Sorted(list)
}

// SeasonOf is the year of a bed whose last frost is in a calendar year.
func (p *Plan) SeasonOf(bed string, year int) (s Season) {
	sky, _ := p.Design.SkyOr(p.Shop.Catalog)
	lm, ld, err := design.MonthDay(sky.Last)
	fm, fd, err2 := design.MonthDay(sky.First)
	if err != nil || err2 != nil {
		return s // they were checked when they were set
	}
	s.Frosts = planting.FrostsOf(year, lm, ld, fm, fd)
	i := slices.IndexFunc(p.Growing, func(g Growing) bool { return g.Bed == bed })
	if i < 0 {
		return s
	}
	b := p.Design.Beds[i]
	care := planting.Care{Drip: b.Water == design.ByDrip, Oiled: b.Finish != design.Unfinished && b.Finish != "",
		WaterDays: p.Design.WaterOr(p.Shop.Catalog).Days}
	area := measure.Area(0)
	for _, o := range p.Frames[i].Openings {
		area += measure.Over(o.Hi.U-o.Lo.U, o.Hi.V-o.Lo.V)
	}
	if len(p.Growing[i].Surfaces) > 0 {
		deep := p.Shop.Catalog.Told(measure.Inch, 25*measure.Millimetre)
		v := p.Shop.Catalog.System.Volume(area.By(deep))
		care.Compost = fmt.Sprintf("%s of compost over all of it, about %s; beds sink so much in a year",
			p.Shop.Precision().Short(deep), v)
	}
	for _, x := range p.Growing[i].Patches {
		if x.Plants() == 0 || slices.ContainsFunc(s.Crops, func(c CropYear) bool { return c.ID == x.Crop.ID }) {
			continue
		}
		care.Covered = care.Covered || x.Crop.Perennial
		s.Crops = append(s.Crops, CropYear{x.Crop.ID, x.Crop.Name, planting.OfCrop(x.Crop, s.Frosts)})
	}
	s.Bed = planting.OfBed(care, s.Frosts)
	return s
}

// Claim says what was tried of a layout, and what is known of it.
func (p Planted) Claim() string {
	if p.Proved {
		return fmt.Sprintf("No placing of these blocks on the grid counts fewer faults: %d steps were searched, and the"+
			" rest could not be better.", p.Tried)
	}
	return fmt.Sprintf("The best found in %d steps: it counts %d points of missing sun, depth and neighbours; no placing"+
		" of these blocks counts fewer than %d.", p.Tried, p.Cost, p.Bound)
}
