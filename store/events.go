package store

import (
	"context"
	"fmt"

	"github.com/jmoiron/sqlx"
)

// Event is a stretch of work that was handed out in a calendar.
type Event struct {
	UID    string `db:"uid"`
	Title  string `db:"title"`
	Begins string `db:"begins"` // by the clock of the place
	Ends   string `db:"ends"`
}

// Events are those of a project that were handed out.
func (s *Store) Events(ctx context.Context, project int64) (list []Event, err error) {
	if err = s.db.SelectContext(ctx, &list, "SELECT uid, title, begins, ends FROM events WHERE project_id = ? ORDER BY"+
		" begins, uid", project); err != nil {
		return nil, fmt.Errorf("events: %w", err)
	}
	return list, nil
}

// HandOut keeps what was handed out, beside what was before: that has to be called off where it has gone.
func (s *Store) HandOut(project int64, list []Event) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		for _, e := range list {
			if _, err := tx.Exec("INSERT INTO events (project_id, uid, title, begins, ends) VALUES (?, ?, ?, ?, ?) ON CONFLICT"+
				" (project_id, uid) DO UPDATE SET title = excluded.title, begins = excluded.begins, ends = excluded.ends",
				project, e.UID, e.Title, e.Begins, e.Ends); err != nil {
				return fmt.Errorf("hand out: %w", err)
			}
		}
		return nil
	})
}
