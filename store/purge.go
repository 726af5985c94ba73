package store

import (
	"fmt"
	"time"

	"github.com/jmoiron/sqlx"
)

// Reprieve is how long a deleted project can be had back.
const Reprieve = 30 * 24 * time.Hour

// Purge deletes a project for good, with all that is kept of it: revisions, ticks, what is claimed, links.
func (s *Store) Purge(project int64) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		res, err := tx.Exec("DELETE FROM projects WHERE id = ?", project)
		if err != nil {
			return fmt.Errorf("project %d: %w", project, err)
		}
		if n, err := res.RowsAffected(); err != nil || n == 0 {
			return ErrNotFound
		}
		return nil
	})
}

// sweptAtOnce is how many rows, or projects, one change of many is of.
const sweptAtOnce = 200

// Sweep deletes for good what is over: projects deleted longer ago than [Reprieve], sessions, links and happenings
// whose time is up.
func (s *Store) Sweep() error {
	before := func(d time.Duration) string { return s.now().Add(-d).UTC().Format(time.RFC3339) }
	for _, q := range []struct {
		table, key, over string
		arg              any
	}{
		{"projects", "id", "deleted_at < ?", before(Reprieve)},
		{"sessions", "token", "expires <= ?", s.now().Unix()},
		{"links", "id", "expires_at <= ?", s.stamp()},
		{"happenings", "id", "at < ?", before(keptHappenings)},
		{"signins", "id", "seen_at < ?", before(LongestSession)},
	} {
		query := fmt.Sprintf("DELETE FROM %s WHERE %s IN (SELECT %s FROM %s WHERE %s LIMIT %d)", q.table, q.key, q.key,
			q.table, q.over, sweptAtOnce)
		for more := true; more; {
			err := s.inTx(func(tx *sqlx.Tx) error {
				res, err := tx.Exec(query, q.arg)
				if err != nil {
					return err
				}
				n, err := res.RowsAffected()
				more = n == sweptAtOnce
				return err
			})
			if err != nil {
				return fmt.Errorf("sweep: %w", err)
			}
		}
	}
	return nil
}

// LongestSession is how long a sign-in holds without being used.
const LongestSession = 30 * 24 * time.Hour
