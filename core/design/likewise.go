package design

import "chamfer/core/catalog"

// Likewise is what was decided for a bed since before, for the other beds that can be built so:
// the edits, and the decisions they are of. Names and numbers are a bed's own, and what is of
// the whole project is decided for all already.
func Likewise(now, before Design, bed string, cat *catalog.Catalog) (edits []Edit, of []Field) {
	b, err := now.Bed(bed)
	was, err2 := before.Bed(bed)
	if err != nil || err2 != nil {
		return nil, nil
	}
	for _, f := range FieldsOf(*b) {
		_, had := FieldOf(*was, f.Key)
		if value := f.exact(*b); !had || value == f.exact(*was) || f.Whole || f.Key == "name" || f.Key == "count" {
			continue
		}
		any := false
		for _, other := range now.Beds {
			theirs, has := FieldOf(other, f.Key)
			if !has || other.ID == b.ID || theirs.exact(other) == f.exact(*b) {
				continue
			}
			e := Edit{Bed: other.ID, Field: f.Key, Value: f.exact(*b)}
			if _, err := Apply(now, cat, append(edits[:len(edits):len(edits)], e)...); err == nil {
				edits, any = append(edits, e), true
			}
		}
		if any {
			of = append(of, f)
		}
	}
	return edits, of
}
