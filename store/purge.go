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

// Sweep deletes for good what is over: projects deleted longer ago than [Reprieve], sessions, links and happenings
// whose time is up.
func (s *Store) Sweep() error {
	before := func(d time.Duration) string { return s.now().Add(-d).UTC().Format(time.RFC3339) }
	return s.inTx(func(tx *sqlx.Tx) error {
		for _, q := range []struct {
			query string
			arg   any
		}{
			{"DELETE FROM projects WHERE deleted_at < ?", before(Reprieve)},
			{"DELETE FROM sessions WHERE expires <= ?", s.now().Unix()},
			{"DELETE FROM links WHERE expires_at <= ?", s.stamp()},
			{"DELETE FROM happenings WHERE at < ?", before(keptHappenings)},
			{"DELETE FROM signins WHERE seen_at < ?", before(LongestSession)},
		} {
			if _, err := tx.Exec(q.query, q.arg); err != nil {
				return fmt.Errorf("sweep: %w", err)
			}
		}
		return nil
	})
}

// LongestSession is how long a sign-in holds without being used.
const LongestSession = 30 * 24 * time.Hour
