package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"

	"github.com/jmoiron/sqlx"

	"chamfer/core/catalog"
)

// What belongs to the workshop and the work, not to a design: habits, and what is done.

// Tick sets or clears one thing done.
func (s *Store) Tick(project int64, key string, done bool) error {
	query := "DELETE FROM ticks WHERE project_id = ? AND key = ?"
	if done {
		query = "INSERT INTO ticks (project_id, key) VALUES (?, ?) ON CONFLICT DO NOTHING"
	}
	return s.inTx(func(tx *sqlx.Tx) error {
		if _, err := tx.Exec(query, project, key); err != nil {
			return fmt.Errorf("tick: %w", err)
		}
		return nil
	})
}

// Ticks returns what is done.
func (s *Store) Ticks(ctx context.Context, project int64) (map[string]bool, error) {
	var keys []string
	if err := s.db.SelectContext(ctx, &keys, "SELECT key FROM ticks WHERE project_id = ?", project); err != nil {
		return nil, fmt.Errorf("ticks: %w", err)
	}
	done := map[string]bool{}
	for _, k := range keys {
		done[k] = true
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

// TickAll sets and clears several steps at once, by their keys.
func (s *Store) TickAll(project int64, done map[string]bool) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		for _, key := range slices.Sorted(maps.Keys(done)) {
			query := "DELETE FROM ticks WHERE project_id = ? AND key = ?"
			if done[key] {
				query = "INSERT INTO ticks (project_id, key) VALUES (?, ?) ON CONFLICT DO NOTHING"
			}
			if _, err := tx.Exec(query, project, key); err != nil {
				return fmt.Errorf("ticks: %w", err)
			}
		}
		return nil
	})
}
