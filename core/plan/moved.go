package plan

import (
	"context"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/design"
	"chamfer/core/money"
)

// Move is what became of a price since a project was bought at it, or of what a shop has.
type Move struct {
	SKU, Item, At string
	Was, Now      money.Amount // before tax
	Gone          bool         // the shop asks no price for it any more, or has none
	Short         int          // so many of those on the bill it has not
	Seen          string       // the day of the price now
}

// Moved tells how the prices of a book have moved since the project took them, of what is on its bill.
func (p *Plan) Moved(book cost.Book) (list []Move) {
	rate := p.Shop.Habits.TaxBasisPoints
	for _, l := range p.Bill.Lines {
		if l.At == "" || l.Owned || slices.ContainsFunc(list, func(m Move) bool { return m.SKU == l.SKU }) {
			continue
		}
		sale, ok := p.Shop.Catalog.SaleOf(l.SKU)
		if !ok {
			continue
		}
		m := Move{SKU: l.SKU, Item: l.Item, At: l.At, Was: sale.Price, Gone: true}
		shop, known := book.Named(l.At)
		for _, q := range book.Quotes {
			if known && q.Shop == shop.ID && q.SKU == catalog.Base(l.SKU) && q.Left != 0 {
				m.Now, m.Gone, m.Seen = q.Net(rate), false, q.Seen
				if q.Left > 0 && l.Quantity > q.Left {
					m.Short = l.Quantity - q.Left
				}
			}
		}
		if m.Gone || m.Short > 0 || m.Now != m.Was {
			list = append(list, m)
		}
	}
	return list
}

// Anywhere lists what is bought of a project that has chosen shops and has no price of any: it stands at the
// catalogue's.
func (p *Plan) Anywhere() (list []string) {
	if len(p.Design.Sold) == 0 {
		return nil
	}
	for _, l := range p.Bill.Lines {
		if l.At == "" && !l.Owned && !l.Own && !slices.Contains(list, l.Item) {
			list = append(list, l.Item)
		}
	}
	return list
}

// Renewed is the project bought at the shops it is bought at now, at what a book has them ask; ok is false where it
// is bought at none, or the book knows none of them.
func (p *Plan) Renewed(ctx context.Context, book cost.Book) (v Visit, ok bool, err error) {
	var chosen []cost.Shop
	for _, s := range book.Shops {
		if slices.ContainsFunc(p.Bill.Lines, func(l cost.Line) bool { return l.At == s.Name }) {
			chosen = append(chosen, s)
		}
	}
	if len(chosen) == 0 {
		return v, false, nil
	}
	v, err = p.visit(ctx, book, chosen)
	return v, err == nil, err
}

// VisitOf is the project bought at some of the shops of a book, by name.
func (p *Plan) VisitOf(ctx context.Context, book cost.Book, names []string) (Visit, error) {
	var chosen []cost.Shop
	for _, s := range book.Shops {
		if slices.Contains(names, s.Name) {
			chosen = append(chosen, s)
		}
	}
	return p.visit(ctx, book, chosen)
}

// Paid are the edits by which a thing on the bill costs what was paid for it: at the shop it is bought at, where one
// was
// chosen, else in this project.
func (p *Plan) Paid(l cost.Line, price money.Amount) []design.Edit {
	base := catalog.Base(l.SKU)
	list, err := catalog.ReadSales(p.Design.Sold[base])
	i := slices.IndexFunc(list, func(s catalog.Sale) bool { return s.At == l.At })
	if err != nil || i < 0 || l.At == "" || l.Own {
		return []design.Edit{{Field: "price:" + l.SKU, Value: price.String()}}
	}
	list[i].Price = price
	return []design.Edit{{Field: "sold:" + base, Value: catalog.WriteSales(list)}}
}
