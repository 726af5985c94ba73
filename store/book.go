package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"

	"github.com/jmoiron/sqlx"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/money"
)

// BookShop is a shop of a price book, with what it said when it was last asked by itself.
type BookShop struct {
	cost.Shop
	Told   string // why it did not answer; "" where it did
	ToldAt string // when it was asked, RFC 3339; "" for never
}

// ErrNoShop says that a household has no such shop; ErrSameShop, that two would be called the same.
var (
	ErrNoShop   = errors.New("there is no such shop")
	ErrSameShop = errors.New("there is a shop called that, or nearly so, already: another name works")
)

type shopRow struct {
	ID     int64  `db:"id"`
	Name   string `db:"name"`
	Brings bool   `db:"brings"`
	Fee    int64  `db:"fee"`
	Free   int64  `db:"free"`
	Least  int64  `db:"least"`
	Feed   bool   `db:"feed"`
	Told   string `db:"told"`
	ToldAt string `db:"told_at"`
}

// BookShops are a household's shops in a region, in the order they were written down.
func (s *Store) BookShops(ctx context.Context, household int64, region string) (list []BookShop, err error) {
	var rows []shopRow
	if err := s.db.SelectContext(ctx, &rows, `SELECT id, name, brings, fee, free, least, feed, told, told_at FROM shops
		WHERE household_id = ? AND region = ? ORDER BY id`, household, region); err != nil {
		return nil, fmt.Errorf("shops: %w", err)
	}
	for _, r := range rows {
		list = append(list, BookShop{cost.Shop{ID: r.ID, Name: r.Name, Brings: r.Brings, Fee: money.Amount(r.Fee),
			Free: money.Amount(r.Free), Least: money.Amount(r.Least), Feed: r.Feed}, r.Told, r.ToldAt})
	}
	return list, nil
}

// Book is a household's price book in a region: its shops, and the last price of each thing at each.
func (s *Store) Book(ctx context.Context, household int64, region string) (b cost.Book, err error) {
	shops, err := s.BookShops(ctx, household, region)
	if err != nil {
		return b, err
	}
	for _, x := range shops {
		b.Shops = append(b.Shops, x.Shop)
	}
	b.Quotes, err = s.quotes(ctx, `SELECT q.shop_id, q.sku, q.price, q.taxed, q.has, q.seen FROM quotes q
		JOIN shops h ON h.id = q.shop_id WHERE h.household_id = ? AND h.region = ? AND q.seen =
		(SELECT max(o.seen) FROM quotes o WHERE o.shop_id = q.shop_id AND o.sku = q.sku) ORDER BY q.sku, q.shop_id`,
		household, region)
	return b, err
}

// PriceHistory is every price of a thing at a household's shops, by shop and then the oldest first.
func (s *Store) PriceHistory(ctx context.Context, household int64, region, sku string) ([]cost.Quote, error) {
	return s.quotes(ctx, `SELECT q.shop_id, q.sku, q.price, q.taxed, q.has, q.seen FROM quotes q
		JOIN shops h ON h.id = q.shop_id WHERE h.household_id = ? AND h.region = ? AND q.sku = ?
		ORDER BY q.shop_id, q.seen`, household, region, sku)
}

func (s *Store) quotes(ctx context.Context, query string, args ...any) (list []cost.Quote, err error) {
	var rows []struct {
		Shop  int64  `db:"shop_id"`
		SKU   string `db:"sku"`
		Price int64  `db:"price"`
		Taxed bool   `db:"taxed"`
		Has   int    `db:"has"`
		Seen  string `db:"seen"`
	}
	if err := s.db.SelectContext(ctx, &rows, query, args...); err != nil {
		return nil, fmt.Errorf("prices: %w", err)
	}
	for _, r := range rows {
		list = append(list, cost.Quote{Shop: r.Shop, SKU: r.SKU, Price: money.Amount(r.Price), Taxed: r.Taxed, Left: r.Has,
			Seen: r.Seen})
	}
	return list, nil
}

// PutShop writes a shop down, or changes one that has a number, and returns its number. It fails with [ErrFull],
// [ErrNoShop] and [ErrSameShop].
func (s *Store) PutShop(household int64, region string, x cost.Shop) (id int64, err error) {
	err = s.inTx(func(tx *sqlx.Tx) (err error) {
		id, err = s.putShop(tx, household, region, x)
		return err
	})
	return id, err
}

func (s *Store) putShop(tx *sqlx.Tx, household int64, region string, x cost.Shop) (id int64, err error) {
	if err := s.settle(tx, household); err != nil {
		return 0, err
	}
	var names []struct {
		ID   int64  `db:"id"`
		Name string `db:"name"`
	}
	if err := tx.Select(&names, "SELECT id, name FROM shops WHERE household_id = ? AND region = ?", household,
		region); err != nil {
		return 0, fmt.Errorf("shop: %w", err)
	}
	for _, o := range names {
		if o.ID != x.ID && catalog.Slug(o.Name) == catalog.Slug(x.Name) {
			return 0, ErrSameShop
		}
	}
	var res sql.Result
	if x.ID == 0 {
		if len(names) >= cost.MostShops {
			return 0, ErrFull
		}
		res, err = tx.Exec(`INSERT INTO shops (id, household_id, region, name, brings, fee, free, least, feed)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?,
				?)`, s.number(tx, "shops"), household, region, x.Name, x.Brings, int64(x.Fee), int64(x.Free), int64(x.Least),
			x.Feed)
	} else {
		res, err = tx.Exec(`UPDATE shops SET name = ?, brings = ?, fee = ?, free = ?, least = ?, feed = ?
			WHERE id = ? AND household_id = ? AND region = ?`, x.Name, x.Brings, int64(x.Fee), int64(x.Free),
			int64(x.Least), x.Feed, x.ID, household, region)
	}
	if err != nil {
		return 0, fmt.Errorf("shop: %w", err)
	}
	if n, err := res.RowsAffected(); err != nil || n == 0 {
		return 0, errors.Join(err, ErrNoShop)
	}
	if x.ID != 0 {
		return x.ID, nil
	}
	return res.LastInsertId()
}

// DropShop takes a shop out of a price book, and its prices with it.
func (s *Store) DropShop(household, id int64) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		_, err := tx.Exec("DELETE FROM shops WHERE id = ? AND household_id = ?", id, household)
		return err
	})
}

// ShopTold takes down what became of asking a shop by itself.
func (s *Store) ShopTold(household, id int64, told string) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		_, err := tx.Exec("UPDATE shops SET told = ?, told_at = ? WHERE id = ? AND household_id = ?", told, s.stamp(), id,
			household)
		return err
	})
}

// NotePrices writes prices down that were seen at shops of a household, all or none; a price of the same thing, shop
// and
// day before it gives way. Shops of a list that are not known are written down with it.
func (s *Store) NotePrices(household int64, region string, list []cost.Priced) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		known := map[string]int64{}
		for _, p := range list {
			id, ok := known[p.At]
			if !ok {
				err := tx.Get(&id, "SELECT id FROM shops WHERE household_id = ? AND region = ? AND name = ?", household, region,
					p.At)
				if errors.Is(err, sql.ErrNoRows) {
					id, err = s.putShop(tx, household, region, cost.Shop{Name: p.At})
				}
				if err != nil {
					return fmt.Errorf("%s: %w", p.At, err)
				}
				known[p.At] = id
			}
			if _, err := tx.Exec(`INSERT INTO quotes (id, shop_id, sku, price, taxed, has, seen, at) VALUES
				(?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT (shop_id, sku, seen) DO UPDATE SET price = excluded.price,
				taxed = excluded.taxed, has = excluded.has,
					at = excluded.at`, s.number(tx, "quotes"), id, p.SKU, int64(p.Price), p.Taxed, p.Left, p.Seen,
				s.stamp()); err != nil {
				return fmt.Errorf("price: %w", err)
			}
		}
		for _, id := range known { // of one thing so many days are kept
			if _, err := tx.Exec(`DELETE FROM quotes WHERE shop_id = ? AND id NOT IN (SELECT id FROM (SELECT id, row_number()
				OVER (PARTITION BY sku ORDER BY seen DESC) AS n FROM quotes WHERE shop_id = ?) WHERE n <= ?)`, id, id,
				mostDays); err != nil {
				return fmt.Errorf("price: %w", err)
			}
		}
		return nil
	})
}

// mostDays is for how many days a price of one thing at one shop is kept.
const mostDays = 60

// DropPrice takes back what a shop asks for a thing, today and before.
func (s *Store) DropPrice(household, shop int64, sku string) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		_, err := tx.Exec(`DELETE FROM quotes WHERE sku = ? AND shop_id = (SELECT id FROM shops WHERE id = ?
			AND household_id = ?)`, sku, shop, household)
		return err
	})
}
