package store

import (
	"context"
	"database/sql"
	"fmt"
	"sync"
)

// watch is a connection that never writes: to it every change of the file is somebody else's.
type watch struct {
	mu    sync.Mutex
	conn  *sql.Conn
	epoch int64 // connections there have been: each counts anew
}

// Version grows with every change of the file, whoever makes it: this program or another (SQLite, PRAGMA
// data_version). What was read at one version is as it was while the version stays.
func (s *Store) Version(ctx context.Context) (version int64, err error) {
	s.watch.mu.Lock()
	defer s.watch.mu.Unlock()
	if s.watch.conn == nil {
		if s.watch.conn, err = s.db.Conn(ctx); err != nil {
			s.watch.conn = nil
			return 0, fmt.Errorf("version: %w", err)
		}
		s.watch.epoch++
	}
	if err := s.watch.conn.QueryRowContext(ctx, "PRAGMA data_version").Scan(&version); err != nil {
		_ = s.watch.conn.Close()
		s.watch.conn = nil
		return 0, fmt.Errorf("version: %w", err)
	}
	return s.watch.epoch<<40 | version, nil
}

func (w *watch) close() {
	w.mu.Lock()
	defer w.mu.Unlock()
	if w.conn != nil {
		_ = w.conn.Close()
		w.conn = nil
	}
}
