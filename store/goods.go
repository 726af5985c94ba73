package store

import (
	"context"
	"errors"
	"fmt"

	"github.com/jmoiron/sqlx"
)

// Good is what became of a thing that is bought.
type Good struct {
	Item   string `db:"item"`
	Name   string `db:"name"`
	Unit   string `db:"unit"`
	Packs  int    `db:"packs"`
	Lacked bool   `db:"lacked"`
	Paid   *int64 `db:"paid"`
	Left   *int64 `db:"rest"`
	Need   int64  `db:"need"`
	Had    int64  `db:"had"`
	At     string `db:"at"`
}

func (g Good) empty() bool { return g.Packs == 0 && !g.Lacked && g.Paid == nil && g.Left == nil }

// Size is one that was measured, beside the one that was planned; nanometres.
type Size struct {
	Key      string `db:"key"`
	Planned  int64  `db:"planned"`
	Measured int64  `db:"measured"`
	At       string `db:"at"`
}

// ErrFull is that a project keeps as many of something as it can.
var ErrFull = errors.New("it keeps as many as it can")

const mostKept = 2000 // goods, and sizes, of one project

// PutGoods writes down what became of things; of one of which nothing is said nothing is kept.
func (s *Store) PutGoods(project int64, list ...Good) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		for _, g := range list {
			if g.At == "" {
				g.At = s.stamp()
			}
			var err error
			if g.empty() {
				_, err = tx.Exec("DELETE FROM goods WHERE project_id = ? AND item = ?", project, g.Item)
			} else {
				_, err = tx.Exec("INSERT INTO goods (project_id, item, name, unit, packs, lacked, paid, rest, need, had, at)"+
					" VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT (project_id, item) DO UPDATE SET name = excluded.name,"+
					" unit = excluded.unit, packs = excluded.packs, lacked = excluded.lacked, paid = excluded.paid,"+
					" rest = excluded.rest, need = excluded.need, had = excluded.had, at = excluded.at", project, g.Item, g.Name,
					g.Unit, g.Packs, g.Lacked, g.Paid, g.Left, g.Need, g.Had, g.At)
			}
			if err != nil {
				return fmt.Errorf("goods: %w", err)
			}
		}
		return tooMany(tx, "goods", project, mostKept)
	})
}

func tooMany(tx *sqlx.Tx, table string, project int64, most int) error {
	var n int
	if err := tx.Get(&n, "SELECT count(*) FROM "+table+" WHERE project_id = ?", project); err != nil {
		return fmt.Errorf("%s: %w", table, err)
	}
	if n > most {
		return ErrFull
	}
	return nil
}

// Goods are what became of a project's things, in the order of their numbers.
func (s *Store) Goods(ctx context.Context, project int64) (list []Good, err error) {
	if err = s.db.SelectContext(ctx, &list, "SELECT item, name, unit, packs, lacked, paid, rest, need, had, at FROM goods"+
		" WHERE project_id = ? ORDER BY item", project); err != nil {
		return nil, fmt.Errorf("goods: %w", err)
	}
	return list, nil
}

// PutSizes writes down sizes as they were measured; drop takes those of other keys out again.
func (s *Store) PutSizes(project int64, list []Size, drop ...string) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		for _, key := range drop {
			if _, err := tx.Exec("DELETE FROM sizes WHERE project_id = ? AND key = ?", project, key); err != nil {
				return fmt.Errorf("sizes: %w", err)
			}
		}
		for _, z := range list {
			if z.At == "" {
				z.At = s.stamp()
			}
			if _, err := tx.Exec("INSERT INTO sizes (project_id, key, planned, measured, at) VALUES (?, ?, ?, ?, ?)"+
				" ON CONFLICT (project_id, key) DO UPDATE SET planned = excluded.planned, measured = excluded.measured,"+
				" at = excluded.at", project, z.Key, z.Planned, z.Measured, z.At); err != nil {
				return fmt.Errorf("sizes: %w", err)
			}
		}
		return tooMany(tx, "sizes", project, mostKept)
	})
}

// Sizes are those of a project, in the order of their keys.
func (s *Store) Sizes(ctx context.Context, project int64) (list []Size, err error) {
	if err = s.db.SelectContext(ctx, &list, "SELECT key, planned, measured, at FROM sizes WHERE project_id = ?"+
		" ORDER BY key", project); err != nil {
		return nil, fmt.Errorf("sizes: %w", err)
	}
	return list, nil
}

// Standings are the designs of a household's projects that are not deleted and of which something was recorded, or that
// have been at the saw: what is learnt is learnt of all of them.
func (s *Store) Standings(ctx context.Context, household int64) (list []Standing, err error) {
	if err = s.db.SelectContext(ctx, &list, `SELECT p.id, r.design FROM projects p JOIN revisions r ON r.id = p.head
		WHERE p.household_id = ? AND p.deleted_at IS NULL AND (p.head IN (SELECT id FROM revisions WHERE
		instr(design, '"saw":') > 0) OR p.id IN (SELECT project_id FROM goods UNION SELECT project_id FROM sizes))
		ORDER BY p.id`, household); err != nil {
		return nil, fmt.Errorf("standings: %w", err)
	}
	return list, nil
}
