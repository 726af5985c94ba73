package catalog

import "slices"

// Lacking is the catalogue without what is not to be had today, by number: packs of fixings, and with their last pack
// the fixing; ways a material comes, which stay for what is owned of them but are not bought. Boards stay: who cuts
// knows which lengths there are.
func (c *Catalog) Lacking(skus []string) *Catalog {
	lacks := func(sku string) bool { return slices.Contains(skus, sku) }
	if !slices.ContainsFunc(skus, func(sku string) bool { return c.IsFill(sku) || c.isPack(sku) }) {
		return c
	}
	with := *c
	with.Fixings, with.Fills = nil, slices.Clone(c.Fills)
	for _, f := range c.Fixings {
		f.Packs = slices.DeleteFunc(slices.Clone(f.Packs), func(p Pack) bool { return lacks(p.SKU) })
		if len(f.Packs) > 0 {
			with.Fixings = append(with.Fixings, f)
		}
	}
	for i := range with.Fills {
		with.Fills[i].Absent = with.Fills[i].Absent || lacks(with.Fills[i].ID)
	}
	return &with
}

func (c *Catalog) isPack(sku string) bool {
	return slices.ContainsFunc(c.Fixings, func(f Fixing) bool {
		return slices.ContainsFunc(f.Packs, func(p Pack) bool { return p.SKU == sku })
	})
}

// MayLack reports whether something can be told to be missing in the shop, so that the plan does without it: a length
// of board, a pack of fixings, a way a material comes where there is another.
func (c *Catalog) MayLack(sku string) bool {
	return c.isPack(sku) || slices.ContainsFunc(c.Offers, func(o Offer) bool { return o.SKU == sku }) ||
		slices.ContainsFunc(c.Fills, func(f Fill) bool { return f.ID == sku && len(c.FillsOf(f.Of)) > 1 })
}
