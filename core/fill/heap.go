package fill

import (
	"fmt"
	"math"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// Heap is a load of something loose as it lies where it was tipped: a cone.
type Heap struct {
	SKU    string // the way it is sold
	Name   string
	Volume measure.Volume
	Across measure.Length
	High   measure.Length
}

// Cone is how wide and how high a heap is that slopes by an angle of repose, in degrees:
// V = π D³ tan φ / 24.
func Cone(v measure.Volume, repose float64) (across, high measure.Length) {
	tan := math.Tan(repose * math.Pi / 180)
	d := math.Cbrt(24 * v.CubicMetres() / (math.Pi * tan))
	return measure.Length(d * float64(measure.Metre)), measure.Length(d / 2 * tan * float64(measure.Metre))
}

// Heaps are the loads that are delivered loose.
func (p Plan) Heaps() (list []Heap) {
	for _, n := range p.Needs {
		w := n.Way()
		if w.Packs == 0 || w.Fill.Kind != catalog.InBulk {
			continue
		}
		for k := range max(1, w.Loads) { // as even as whole steps make them
			h := Heap{SKU: w.Fill.ID, Name: strings.ToLower(n.Material.Name), Volume: w.Bought}
			if w.Loads > 1 {
				h.Name += fmt.Sprintf(", load %d", k+1)
				h.Volume = w.Fill.Pack * measure.Volume((w.Packs+k)/w.Loads)
			}
			h.Across, h.High = Cone(h.Volume, n.Material.Repose)
			list = append(list, h)
		}
	}
	return list
}
