package strength

import (
	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// Wood is a board in wet soil: what it is known to last there at about 1 1/2 to 2 in (38
// to 50 mm) thick, and how it stands.
type Wood struct {
	Least, Most int // years, by its kind and treatment
	Thick       measure.Length
	Lined       string // "" for no lining, "fabric", "membrane" or "pond"
	OffGround   bool   // on feet or legs: it dries below
}

// usualWood is the thickness that years in soil are quoted for, stoutWood from where they
// are more.
const (
	usualWood = 38 * measure.Millimetre
	stoutWood = 75 * measure.Millimetre
)

// Years is the range a board lasts. Rot works inwards from the wet side, so half the wood
// lasts about half as long, and no board less than two fifths; a sleeper a third longer.
// A membrane adds a quarter, fabric a tenth, standing clear of the ground a quarter. All
// common practice, rounded down to whole years, at least 1.
func (w Wood) Years() (least, most int) {
	share := 100
	switch {
	case w.Thick >= stoutWood:
		share = 133
	case w.Thick < usualWood:
		share = max(40, int(w.Thick*100/usualWood))
	}
	switch w.Lined {
	case catalog.Membrane, catalog.Trough:
		share = share * 125 / 100
	case "fabric":
		share = share * 110 / 100
	}
	if w.OffGround {
		share = share * 125 / 100
	}
	return max(1, w.Least*share/100), max(1, w.Most*share/100)
}
