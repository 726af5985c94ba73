package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"

	"github.com/jmoiron/sqlx"
)

// Photo is a picture of the work.
type Photo struct {
	ID      int64  `db:"id"`
	Key     string `db:"key"` // of the step it is of, "" for the whole
	Caption string `db:"caption"`
	Width   int    `db:"width"`
	Height  int    `db:"height"`
	Body    []byte `db:"body"` // JPEG; nil in a list
	At      string `db:"at"`
}

// MostPhotos is how many a project keeps: with what one may weigh they fit its file.
const MostPhotos = 12

// AddPhotos keeps pictures, or fails with [ErrFull].
func (s *Store) AddPhotos(project int64, list ...Photo) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		for _, p := range list {
			if p.At == "" {
				p.At = s.stamp()
			}
			if _, err := tx.Exec("INSERT INTO photos (id, project_id, key, caption, width, height, body, at) VALUES"+
				" (?, ?, ?, ?, ?, ?, ?, ?)", s.number(tx, "photos"), project, p.Key, p.Caption, p.Width, p.Height, p.Body,
				p.At); err != nil {
				return fmt.Errorf("photo: %w", err)
			}
		}
		return tooMany(tx, "photos", project, MostPhotos)
	})
}

// DropPhoto takes one away.
func (s *Store) DropPhoto(project, id int64) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		_, err := tx.Exec("DELETE FROM photos WHERE project_id = ? AND id = ?", project, id)
		return err
	})
}

// Photos are a project's, the oldest first, without what is in them unless it is asked for.
func (s *Store) Photos(ctx context.Context, project int64, bodies bool) (list []Photo, err error) {
	columns := "id, key, caption, width, height, at"
	if bodies {
		columns += ", body"
	}
	if err = s.db.SelectContext(ctx, &list, "SELECT "+columns+" FROM photos WHERE project_id = ? ORDER BY id",
		project); err != nil {
		return nil, fmt.Errorf("photos: %w", err)
	}
	return list, nil
}

// Photo is one of a project's, or none.
func (s *Store) Photo(ctx context.Context, project, id int64) (p Photo, ok bool, err error) {
	err = s.db.GetContext(ctx, &p, "SELECT id, key, caption, width, height, body, at FROM photos WHERE project_id = ?"+
		" AND id = ?", project, id)
	if errors.Is(err, sql.ErrNoRows) {
		return p, false, nil
	}
	if err != nil {
		return p, false, fmt.Errorf("photo: %w", err)
	}
	return p, true, nil
}
