package design

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/money"
)

// mostSold is how many things a project knows the shops' prices of, mostSoldText how many letters tell of one.
const (
	mostSold     = 1200
	mostSoldText = 600
)

// selling is a catalogue as the shops sell that the project is bought at; what cannot be read is left out.
func (d Design) selling(cat *catalog.Catalog) *catalog.Catalog {
	if cat.SellsAs(d.Sold) {
		return cat
	}
	out := make(map[string][]catalog.Sale, len(d.Sold))
	for sku, text := range d.Sold {
		if list, err := catalog.ReadSales(text); err == nil {
			out[sku] = list
		}
	}
	return cat.Selling(out, d.Sold)
}

// setSold writes down at which shops a thing is bought and what they ask, as [catalog.ReadSales] reads it; nothing goes
// back to the catalogue's price. Without a number nothing is known of any thing any more.
func (d *Design) setSold(sku, value string, cat *catalog.Catalog) error {
	value = strings.TrimSpace(value)
	if sku == "" {
		if value != "" {
			return fmt.Errorf("only nothing is said of all things at once")
		}
		d.Sold = nil
		return nil
	}
	if d.Sold = maps.Clone(d.Sold); value == "" {
		delete(d.Sold, sku)
		if len(d.Sold) == 0 {
			d.Sold = nil
		}
		return nil
	}
	region, err := catalog.ForRegion(cat.ID)
	if err != nil {
		return err
	}
	if !region.Sells(sku) {
		return fmt.Errorf("nothing is sold here as %q", sku)
	}
	list, err := catalog.ReadSales(value)
	if err != nil {
		return err
	}
	if d.Sold == nil {
		d.Sold = map[string]string{}
	}
	d.Sold[sku] = catalog.WriteSales(list)
	if len(d.Sold) > mostSold {
		return fmt.Errorf("this project knows the prices of as many things as it can, %d", mostSold)
	}
	return nil
}

// sold refuses what cannot be read of where things are bought.
func (c *checker) sold(d Design) {
	if len(d.Sold) > mostSold {
		c.refuse("", "sold", "prices of more than %d things", mostSold)
	}
	if len(d.Sold) == 0 || c.selling {
		return
	}
	region, err := catalog.ForRegion(c.cat.ID)
	for _, sku := range slices.Sorted(maps.Keys(d.Sold)) {
		text, field := d.Sold[sku], "sold:"+sku
		list, bad := catalog.ReadSales(text)
		switch {
		case err != nil || !region.Sells(sku):
			c.refuse("", field, "nothing is sold here as %q", sku)
		case len(text) > mostSoldText || !Visible(text):
			c.refuse("", field, "up to %d letters on one line work", mostSoldText)
		case bad != nil:
			c.refuse("", field, "%v", bad)
		case text != catalog.WriteSales(list):
			c.refuse("", field, "%q works, the cheapest first", catalog.WriteSales(list))
		}
	}
}

// PricedAt is the edit by which a thing that is bought at a shop costs another price there, with which shop it is;
// false
// where it is bought at none, or the text is no price.
func (d Design) PricedAt(sku, text string) (e Edit, at string, price money.Amount, ok bool) {
	base := catalog.Base(sku)
	list, err := catalog.ReadSales(d.Sold[base])
	price, bad := money.Parse(text)
	_, own := d.Prices[sku]
	if err != nil || bad != nil || own || price < 0 || price > money.Max {
		return e, "", 0, false
	}
	for i, s := range list {
		if len(list) == 1 && sku == base || len(list) > 1 && sku == base+catalog.Elsewhere+catalog.Slug(s.At) {
			list[i].Price = price
			return Edit{Field: "sold:" + base, Value: catalog.WriteSales(list)}, s.At, price, true
		}
	}
	return e, "", 0, false
}
