package store

import "github.com/jmoiron/sqlx"

// unpackRevision gives a revision its design back.
func unpackRevision(tx *sqlx.Tx, revision int64) error { return nil }
