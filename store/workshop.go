package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"

	"github.com/jmoiron/sqlx"

	"chamfer/core/catalog"
)

// What belongs to the workshop and the work, not to a design: habits, and what is done.

// Tick is one thing that is done or not; Print is what it was then, "" where nobody says.
type Tick struct {
	Key   string `db:"key"`
	Print string `db:"print"`
	At    string `db:"at"` // when, RFC 3339; "" where nobody says, and then it is now
	Done  bool   `db:"-"`
}

// Tick sets or clears things done, all or none of them.
func (s *Store) Tick(project int64, ticks ...Tick) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		for _, t := range ticks {
			var err error
			if t.Done {
				if t.At == "" {
					t.At = s.stamp()
				}
				_, err = tx.Exec("INSERT INTO ticks (project_id, key, print, at) VALUES (?, ?, ?, ?) ON CONFLICT"+
					" (project_id, key) DO UPDATE SET print = excluded.print, at = excluded.at", project, t.Key, t.Print, t.At)
			} else {
				_, err = tx.Exec("DELETE FROM ticks WHERE project_id = ? AND key = ?", project, t.Key)
			}
			if err != nil {
				return fmt.Errorf("tick: %w", err)
			}
		}
		return nil
	})
}

// Ticks returns what is done, and what it was then.
func (s *Store) Ticks(ctx context.Context, project int64) (map[string]Tick, error) {
	var list []Tick
	query := "SELECT key, print, at FROM ticks WHERE project_id = ?"
	if err := s.db.SelectContext(ctx, &list, query, project); err != nil {
		return nil, fmt.Errorf("ticks: %w", err)
	}
	done := map[string]Tick{}
	for _, t := range list {
		t.Done = true
		done[t.Key] = t
	}
	return done, nil
}

// Habits returns a household's habits for a region, or the region's own where none are
// kept, or what is kept makes no sense.
func (s *Store) Habits(ctx context.Context, household int64, c *catalog.Catalog) (catalog.Habits, error) {
	var raw string
	err := s.db.GetContext(ctx, &raw, "SELECT body FROM habits WHERE household_id = ? AND region = ?", household, c.ID)
	if errors.Is(err, sql.ErrNoRows) {
		return c.Habits, nil
	}
	if err != nil {
		return c.Habits, fmt.Errorf("habits of %s: %w", c.ID, err)
	}
	h := c.Habits
	if json.Unmarshal([]byte(raw), &h) != nil || h.Check() != nil {
		return c.Habits, nil // one row hides no project
	}
	return h, nil
}

// SetHabits keeps a household's habits for a region.
func (s *Store) SetHabits(household int64, region string, h catalog.Habits) error {
	raw, err := json.Marshal(h)
	if err != nil {
		return fmt.Errorf("habits of %s: %w", region, err)
	}
	return s.inTx(func(tx *sqlx.Tx) error {
		if _, err := tx.Exec("INSERT INTO habits (household_id, region, body) VALUES (?, ?, ?) ON CONFLICT"+
			" (household_id, region) DO UPDATE SET body = excluded.body", household, region, string(raw)); err != nil {
			return fmt.Errorf("habits of %s: %w", region, err)
		}
		return nil
	})
}
