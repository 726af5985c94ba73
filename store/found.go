package store

import (
	"context"
	"fmt"

	"github.com/jmoiron/sqlx"
)

// mostFound is how many findings are kept, the latest.
const mostFound = 500

// KeepFound keeps what a longer search has come to, in place of what was there for
// its job.
func (s *Store) KeepFound(job string, raw []byte) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		if _, err := tx.Exec(`INSERT INTO found (job, answer, at) VALUES (?, ?, ?)
			ON CONFLICT (job) DO UPDATE SET answer = excluded.answer, at = excluded.at`, job, raw, s.stamp()); err != nil {
			return fmt.Errorf("keep a finding: %w", err)
		}
		_, err := tx.Exec(`DELETE FROM found WHERE job NOT IN (SELECT job FROM found ORDER BY at DESC, job LIMIT ?)`,
			mostFound)
		return err
	})
}

// Found lists what longer searches have come to.
func (s *Store) Found(ctx context.Context) ([][]byte, error) {
	var list [][]byte
	err := s.db.SelectContext(ctx, &list, `SELECT answer FROM found ORDER BY at, job`)
	return list, err
}
