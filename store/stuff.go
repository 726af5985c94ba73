package store

import (
	"context"
	"fmt"

	"github.com/jmoiron/sqlx"
)

// Shelved is what becomes of a thing in the shed when a job is put away: so many were taken out of it, and so many come
// into it.
type Shelved struct {
	Item      string
	Took, Put int
}

// mostStuff is how many of one thing a shed counts, mostStuffKinds of how many things.
const (
	mostStuff      = 100_000
	mostStuffKinds = 1000
)

// Stuff is what a household has in its shed beside boards, by the shop's number: pieces of screws and blocks, packs of
// anything else.
func (s *Store) Stuff(ctx context.Context, household int64, region string) (map[string]int, error) {
	var rows []struct {
		Item string `db:"item"`
		N    int    `db:"n"`
	}
	if err := s.db.SelectContext(ctx, &rows, "SELECT item, n FROM stuff WHERE household_id = ? AND region = ? AND n > 0",
		household, region); err != nil {
		return nil, fmt.Errorf("stuff: %w", err)
	}
	list := map[string]int{}
	for _, r := range rows {
		list[r.Item] = r.N
	}
	return list, nil
}

// SetStuff says how many of a thing there are in the shed; none forgets it.
func (s *Store) SetStuff(household int64, region, item string, n int) error {
	return s.inTx(func(tx *sqlx.Tx) error { return s.shared(tx, household, region, Shelved{item, mostStuff, n}) })
}

// shared takes out of the shed what was used, as far as it was there, and puts in what is left.
func (s *Store) shared(tx *sqlx.Tx, household int64, region string, list ...Shelved) error {
	if err := s.settle(tx, household); err != nil {
		return err
	}
	for _, x := range list {
		if _, err := tx.Exec(`INSERT INTO stuff (household_id, region, item, n) VALUES (?, ?, ?, min(?, ?)) ON CONFLICT DO
			UPDATE SET n = min(?, max(0, n - ?) + ?)`, household, region, x.Item, x.Put, mostStuff, mostStuff, x.Took,
			x.Put); err != nil {
			return fmt.Errorf("stuff: %w", err)
		}
	}
	var kinds int
	if _, err := tx.Exec("DELETE FROM stuff WHERE n = 0"); err != nil {
		return fmt.Errorf("stuff: %w", err)
	}
	if err := tx.Get(&kinds, "SELECT count(*) FROM stuff WHERE household_id = ?", household); err != nil {
		return fmt.Errorf("stuff: %w", err)
	}
	if kinds > mostStuffKinds {
		return ErrFull
	}
	return nil
}
