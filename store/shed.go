package store

import (
	"context"
	"fmt"

	"github.com/jmoiron/sqlx"

	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// leftover is a row of the shed.
type leftover struct {
	ID        int64  `db:"id"`
	Household int64  `db:"household_id"`
	Region    string `db:"region"`
	Profile   string `db:"profile"`
	Species   string `db:"species"`
	Length    int64  `db:"length"`
	Width     int64  `db:"width"`
	Quantity  int    `db:"quantity"`
	TrimStart int64  `db:"trim_start"`
	TrimEnd   int64  `db:"trim_end"`
	BadFrom   int64  `db:"bad_from"`
	BadTo     int64  `db:"bad_to"`
	Note      string `db:"note"`
}

// Shed lists the boards that a household owns in a region, longest first within their
// kind.
func (s *Store) Shed(ctx context.Context, household int64, region string) ([]catalog.Leftover, error) {
	var rows []leftover
	if err := s.db.SelectContext(ctx, &rows, `SELECT * FROM shed WHERE household_id = ? AND region = ? AND quantity > 0
		ORDER BY profile, species, width, length DESC, id`, household, region); err != nil {
		return nil, fmt.Errorf("shed: %w", err)
	}
	list := make([]catalog.Leftover, len(rows))
	for i, r := range rows {
		list[i] = catalog.Leftover{
			ID:        r.ID,
			Profile:   r.Profile,
			Species:   r.Species,
			Length:    measure.Length(r.Length),
			Width:     measure.Length(r.Width),
			Quantity:  r.Quantity,
			TrimStart: measure.Length(r.TrimStart),
			TrimEnd:   measure.Length(r.TrimEnd),
			BadFrom:   measure.Length(r.BadFrom),
			BadTo:     measure.Length(r.BadTo),
			Note:      r.Note,
		}
	}
	return list, nil
}

// Stow puts boards in the shed; those that are alike are counted together.
func (s *Store) Stow(household int64, region string, list ...catalog.Leftover) error {
	return s.inTx(func(tx *sqlx.Tx) error { return s.stow(tx, household, region, list) })
}

// MostKinds is how many kinds of boards a shed holds.
const MostKinds = 2000

// ErrShedFull says that it holds no more kinds.
var ErrShedFull = fmt.Errorf(
	"the shed holds %d kinds of boards already: take some out first, or write those that are alike as one",
	MostKinds,
)

func (s *Store) stow(tx *sqlx.Tx, household int64, region string, list []catalog.Leftover) error {
	for _, l := range list {
		done, err := tx.Exec(
			`UPDATE shed SET quantity = quantity + ? WHERE household_id = ? AND region = ? AND profile = ? AND `+
				`species = ? AND length = ? AND width = ? AND trim_start = ? AND `+
				`trim_end = ? AND bad_from = ? AND bad_to = ? AND note = ?`,
			l.Quantity,
			household,
			region,
			l.Profile,
			l.Species,
			int64(l.Length),
			int64(l.Width),
			int64(l.TrimStart),
			int64(l.TrimEnd),
			int64(l.BadFrom),
			int64(l.BadTo),
			l.Note,
		)
		if err != nil {
			return err
		}
		if n, err := done.RowsAffected(); err != nil || n > 0 {
			if err != nil {
				return err
			}
			continue
		}
		if _, err := tx.Exec(`INSERT INTO shed (id, household_id, region, profile, species, length, width, quantity, `+
			`trim_start, trim_end, bad_from, bad_to, note) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
			s.number(tx, "shed"), household, region, l.Profile, l.Species, int64(l.Length), int64(l.Width), l.Quantity,
			int64(l.TrimStart), int64(l.TrimEnd), int64(l.BadFrom), int64(l.BadTo), l.Note); err != nil {
			return fmt.Errorf("stow: %w", err)
		}
	}
	var kinds, most int
	if err := tx.QueryRow("SELECT count(*), coalesce(max(quantity), 0) FROM shed WHERE household_id = ?"+
		" AND region = ? AND quantity > 0", household, region).Scan(&kinds, &most); err != nil {
		return fmt.Errorf("stow: %w", err)
	}
	if kinds > MostKinds || most > catalog.MostLeftover {
		return ErrShedFull
	}
	return nil
}

// TakeOut takes boards of one kind out of a household's shed; it never holds fewer than
// none.
func (s *Store) TakeOut(household, id int64, n int) error {
	return s.inTx(func(tx *sqlx.Tx) error { return takeOut(tx, household, id, n) })
}

func takeOut(tx *sqlx.Tx, household, id int64, n int) error {
	_, err := tx.Exec(`UPDATE shed SET quantity = max(0, quantity - ?) WHERE id = ? AND household_id = ?`, n, id,
		household)
	return err
}

// awayTick is the tick of a project whose leftovers have gone into the shed.
const awayTick = "put-away"

// PutAway ends a project's cutting: what it took from the shed goes out of it,
// what is left goes in, and so do shares of packs. It does so once; done is false where it has been.
func (s *Store) PutAway(
	project int64,
	region string,
	taken map[int64]int,
	left []catalog.Leftover,
	shares ...Shelved,
) (done bool, err error) {
	err = s.inTx(func(tx *sqlx.Tx) error {
		done = false // it may be begun once more
		r, err := tx.Exec(`INSERT INTO ticks (project_id, key) VALUES (?, ?) ON CONFLICT DO NOTHING`, project, awayTick)
		if err != nil {
			return err
		}
		n, err := r.RowsAffected()
		if err != nil || n == 0 {
			return err
		}
		done = true
		var household int64
		if err := tx.Get(&household, "SELECT household_id FROM projects WHERE id = ?", project); err != nil {
			return fmt.Errorf("put away: %w", err)
		}
		for id, n := range taken {
			if err := takeOut(tx, household, id, n); err != nil {
				return err
			}
		}
		if err := s.shared(tx, household, region, shares...); err != nil {
			return err
		}
		return s.stow(tx, household, region, left)
	})
	return done, err
}

// IsPutAway reports whether a project's leftovers have gone into the shed.
func (s *Store) IsPutAway(ctx context.Context, project int64) (bool, error) {
	ticks, err := s.Ticks(ctx, project)
	return ticks[awayTick].Done, err
}
