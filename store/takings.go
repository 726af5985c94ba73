package store

import (
	"context"
	"fmt"

	"github.com/jmoiron/sqlx"
)

// Taking is what a step took, as it was written down.
type Taking struct {
	Key     string `db:"key"` // of its tick
	Minutes int    `db:"minutes"`
	People  int    `db:"people"`
	Note    string `db:"note"`
	At      string `db:"at"`
}

// Took writes down what steps took; one of no minutes and without a note is taken out again.
func (s *Store) Took(project int64, list ...Taking) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		for _, t := range list {
			var err error
			if t.Minutes == 0 && t.Note == "" {
				_, err = tx.Exec("DELETE FROM takings WHERE project_id = ? AND key = ?", project, t.Key)
			} else {
				_, err = tx.Exec("INSERT INTO takings (project_id, key, minutes, people, note, at) VALUES (?, ?, ?, ?, ?, ?)"+
					" ON CONFLICT (project_id, key) DO UPDATE SET minutes = excluded.minutes, people = excluded.people,"+
					" note = excluded.note, at = excluded.at", project, t.Key, t.Minutes, t.People, t.Note, s.stamp())
			}
			if err != nil {
				return fmt.Errorf("took: %w", err)
			}
		}
		return nil
	})
}

// Takings are what the steps of a project took, in the order of their keys.
func (s *Store) Takings(ctx context.Context, project int64) (list []Taking, err error) {
	if err = s.db.SelectContext(ctx, &list, "SELECT key, minutes, people, note, at FROM takings WHERE project_id = ?"+
		" ORDER BY key", project); err != nil {
		return nil, fmt.Errorf("takings: %w", err)
	}
	return list, nil
}
