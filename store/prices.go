package store

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"chamfer/core/money"
)

// Seen is a price of something as it was seen, of one pack, or paid.
type Seen struct {
	SKU   string
	Price money.Amount
	At    string
	Paid  bool
}

// PricesSeen are the prices that were written into a project on the way to how it stands, and those that were paid for
// whole packs, by number and then the oldest first. Prices that were taken back are none.
func (s *Store) PricesSeen(ctx context.Context, project int64) (list []Seen, err error) {
	var revisions []Revision
	if err = s.db.SelectContext(ctx, &revisions, `WITH RECURSIVE back (id) AS (
			SELECT head FROM projects WHERE id = ? AND head IS NOT NULL
			UNION ALL SELECT r.parent_id FROM back JOIN revisions r ON r.id = back.id WHERE r.parent_id IS NOT NULL)
		SELECT r.id, r.created_at, r.edits FROM back JOIN revisions r ON r.id = back.id
		WHERE instr(r.edits, '"price:') > 0 ORDER BY r.id`, project); err != nil {
		return nil, fmt.Errorf("prices: %w", err)
	}
	for _, r := range revisions {
		for _, e := range r.Edits() {
			sku, is := strings.CutPrefix(e.Field, "price:")
			if price, err := money.Parse(e.Value); is && err == nil {
				list = append(list, Seen{SKU: sku, Price: price, At: r.Created})
			}
		}
	}
	goods, err := s.Goods(ctx, project)
	for _, g := range goods {
		if g.Paid != nil && g.Packs > 0 {
			list = append(list, Seen{SKU: g.Item, Price: money.Amount(*g.Paid).Per(float64(g.Packs)), At: g.At, Paid: true})
		}
	}
	slices.SortStableFunc(list, func(a, b Seen) int {
		return cmp.Or(cmp.Compare(a.SKU, b.SKU), cmp.Compare(a.At, b.At))
	})
	return list, err
}
