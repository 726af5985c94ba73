package design

import "chamfer/core/catalog"

// Way is one way to build a bed of pieces that are there: what is decided, and what it comes
// to, in words.
type Way struct {
	Edits []Edit
	Words string
	Used  int    // of the pieces
	Not   string // why it cannot be built so, "" where it can
}

// Ways lists what a bed could be, built of the units that are there, where its system has an
// answer: of what, how many there are, and every way, those that its rules do not take with the reason. With none said
// to be there the list is empty.
func (d *Design) Ways(bed string, cat *catalog.Catalog) (unit string, have int, list []Way) {
	b, err := d.Bed(bed)
	if err != nil {
		return "", 0, nil
	}
	s, _ := SystemNamed(b.System)
	if s.Ways == nil {
		return "", 0, nil
	}
	unit = b.Options["unit"]
	if have = d.Have[unit]; have == 0 {
		return unit, 0, nil
	}
	for _, w := range s.Ways(*b, cat, have/b.Times()) {
		for i := range w.Edits {
			w.Edits[i].Bed = bed
		}
		if w.Not == "" {
			if _, err := Apply(*d, cat, w.Edits...); err != nil {
				w.Not = err.Error()
				if said := Refusals(err); len(said) > 0 {
					w.Not = said[0].Reason
				}
			}
		}
		list = append(list, w)
	}
	return unit, have, list
}
