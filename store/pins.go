package store

import (
	"context"
	"fmt"

	"github.com/jmoiron/sqlx"
)

// Pin is a version of a project that is pinned up beside it.
type Pin struct {
	Revision int64  `db:"revision_id"`
	Name     string `db:"name"`
	At       string `db:"at"`
}

// MostPins is how many are pinned up at once: with the project as it stands there are four to compare.
const MostPins = 3

// AddPin pins a version up, or calls one that is pinned already by another name. It fails with [ErrNoRevision] where
// the
// project has none such, and with [ErrFull].
func (s *Store) AddPin(project, revision int64, name string) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		var there bool
		if err := tx.Get(&there, "SELECT EXISTS (SELECT 1 FROM revisions WHERE id = ? AND project_id = ?)", revision,
			project); err != nil {
			return fmt.Errorf("pin: %w", err)
		}
		if !there {
			return ErrNoRevision
		}
		if _, err := tx.Exec("INSERT INTO pins (project_id, revision_id, name, at) VALUES (?, ?, ?, ?)"+
			" ON CONFLICT DO UPDATE SET name = excluded.name", project, revision, name, s.stamp()); err != nil {
			return fmt.Errorf("pin: %w", err)
		}
		return tooMany(tx, "pins", project, MostPins)
	})
}

// DropPin takes one down.
func (s *Store) DropPin(project, revision int64) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		_, err := tx.Exec("DELETE FROM pins WHERE project_id = ? AND revision_id = ?", project, revision)
		return err
	})
}

// Pins are a project's, the oldest first.
func (s *Store) Pins(ctx context.Context, project int64) (list []Pin, err error) {
	if err = s.db.SelectContext(ctx, &list, "SELECT revision_id, name, at FROM pins WHERE project_id = ?"+
		" ORDER BY at, revision_id", project); err != nil {
		return nil, fmt.Errorf("pins: %w", err)
	}
	return list, nil
}
