package cost

import "slices"

// Change is so much more or less of a line than before.
type Change struct {
	SKU, Item, Unit string
	Was, Now        int
}

// Since lists what is bought more or less of than on a bill before, in the order of this one, what is on it no more
// last. What is owned already is not bought.
func (b Bill) Since(before Bill) (list []Change) {
	bought := func(b Bill, sku string) (n int) {
		for _, l := range b.Lines {
			if l.SKU == sku && !l.Owned {
				n += l.Quantity
			}
		}
		return n
	}
	for _, bill := range []Bill{b, before} {
		for _, l := range bill.Lines {
			if l.Owned || slices.ContainsFunc(list, func(c Change) bool { return c.SKU == l.SKU }) {
				continue
			}
			c := Change{l.SKU, l.Item, l.Unit, bought(before, l.SKU), bought(b, l.SKU)}
			if c.Was != c.Now {
				list = append(list, c)
			}
		}
	}
	return list
}

// Words say what to do about it: "1 more board of ...", "2 bags less of ...".
func (c Change) Words() string {
	if c.Now > c.Was {
		return Packs(c.Now-c.Was, c.Unit) + " more: " + c.Item
	}
	return Packs(c.Was-c.Now, c.Unit) + " less: " + c.Item
}
