package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/jmoiron/sqlx"
)

// change carries a change of this store through: into the log, and, once that has acknowledged it, into the file. Where
// somebody else was faster it is begun once more on what they left.
func (k *shared) change(do func(*sqlx.Tx) error) error {
	ctx, cancel := context.WithTimeout(k.ctx, longestShared)
	defer cancel()
	var unsure []string // tries that were not answered at once: one may be in the log
	for sure := false; ; {
		k.mu.Lock()
		at, broken := k.at, k.broken
		k.mu.Unlock()
		if broken != nil {
			return broken
		}
		err := k.try(ctx, do, &unsure)
		moved := errors.Is(err, ErrMoved)
		if err == nil || errors.Is(err, ErrUnsaid) || Why(err) != "" || sure && !moved {
			return err
		}
		_, last, unsaid := k.log.Last(ctx)
		if unsaid == nil {
			unsaid = k.await(ctx, last)
		}
		if unsaid != nil {
			return errors.Join(k.unanswered(unsure), unsaid)
		}
		switch {
		case k.came(unsure):
			return nil
		case last > at:
		case !moved:
			return err // it is so by all there is
		default: // whoever was faster has not come to the log yet, or it has been cut
			if err := k.ask(ctx); err != nil {
				return errors.Join(k.unanswered(unsure), err)
			}
			select {
			case <-time.After(retryShared):
			case <-ctx.Done():
				return k.unanswered(unsure)
			}
		}
		sure = !moved // all that was acknowledged before is in the file now
	}
}

// unanswered is what is said where a change came to nothing for want of time: not that it was not kept, where nobody
// knows.
func (k *shared) unanswered(unsure []string) error {
	if len(unsure) > 0 {
		return ErrUnsaid
	}
	return errHeld
}

// came reports whether one of some tries has come back from the log.
func (k *shared) came(names []string) bool {
	k.mu.Lock()
	defer k.mu.Unlock()
	return slices.ContainsFunc(names, func(name string) bool { return k.names[name] || k.older[name] })
}

// try carries it through once.
func (k *shared) try(ctx context.Context, do func(*sqlx.Tx) error, unsure *[]string) (err error) {
	k.turn.Lock()
	defer k.turn.Unlock()
	tx, err := k.write.BeginTxx(context.Background(), nil)
	if err != nil {
		return fmt.Errorf("begin: %w", err)
	}
	done := false
	defer func() {
		if !done {
			err = errors.Join(err, tx.Rollback())
		}
	}()
	seen, err := k.watched(func() error { return do(tx) })
	if err != nil {
		return err
	}
	pieces, things, ends, err := seen.pieces(tx)
	if err != nil {
		return err
	}
	if len(pieces) == 0 {
		done = true
		return k.committed(tx)
	}
	for _, t := range things {
		if err := k.log.Put(ctx, t.name, t.body); err != nil {
			return errors.Join(errHeld, err)
		}
	}
	last, err := k.append(ctx, tx, pieces, unsure)
	if err != nil {
		return err
	}
	done = true
	if err := k.keep(tx, pieces, ends, last); err != nil { // it is in the log, and comes from there
		return fmt.Errorf("%w: it has the change, and this file has it not yet: %v", ErrUnsaid, err)
	}
	k.mu.Lock()
	k.last = max(k.last, last)
	k.mu.Unlock()
	return nil
}

// keep commits what the log has acknowledged, with how far it is.
func (k *shared) keep(tx *sqlx.Tx, pieces []Piece, ends []string, last uint64) error {
	first := last - uint64(len(pieces)) + 1
	for i, p := range pieces {
		if err := noteAt(tx, p.Subject, first+uint64(i)); err != nil {
			return errors.Join(err, tx.Rollback())
		}
	}
	for _, name := range ends {
		if _, err := tx.Exec("INSERT INTO log_ends (subject, seq) VALUES (?, ?) ON CONFLICT DO UPDATE SET seq = excluded.seq",
			name, int64(first)); err != nil {
			return errors.Join(err, tx.Rollback())
		}
	}
	return k.committed(tx)
}

func (k *shared) committed(tx *sqlx.Tx) error {
	if err := tx.Commit(); err != nil {
		return fmt.Errorf("commit: %w", err)
	}
	k.s.idle.written()
	return nil
}

// append adds the pieces to the log. What was not answered is asked for again, by the same name.
func (k *shared) append(ctx context.Context, tx *sqlx.Tx, pieces []Piece, unsure *[]string) (uint64, error) {
	k.mu.Lock()
	first := k.first
	k.mu.Unlock()
	for i := range pieces {
		err := tx.Get(&pieces[i].After, "SELECT seq FROM log_at WHERE subject = ?", pieces[i].Subject)
		if err != nil && !errors.Is(err, sql.ErrNoRows) {
			return 0, err
		}
		if pieces[i].After < first { // the log has nothing of it any more
			pieces[i].After = 0
		}
	}
	name := fmt.Sprintf("%d-%d", k.log.Node(), k.tries.Add(1))
	ctx, cancel := context.WithTimeout(ctx, longestAsked)
	defer cancel()
	for {
		last, err := k.log.Append(ctx, name, pieces)
		if err == nil || errors.Is(err, ErrMoved) || errors.Is(err, ErrMuch) {
			return last, err
		}
		if !slices.Contains(*unsure, name) {
			*unsure = append(*unsure, name)
		}
		k.report.Warn("the shared log", "change", name, "err", err)
		select {
		case <-time.After(5 * retryShared):
		case <-ctx.Done():
			return 0, errors.Join(ErrUnsaid, err)
		}
	}
}

// noteAt writes down how far a subject is in the file.
func noteAt(tx sqlx.Execer, subject string, seq uint64) error {
	_, err := tx.Exec("INSERT INTO log_at (subject, seq) VALUES (?, ?) ON CONFLICT DO UPDATE SET seq = max(seq,"+
		" excluded.seq)", subject, int64(seq))
	return err
}

// forget has the log forget the past of what has been deleted for good, and things that nothing names any more.
func (k *shared) forget() {
	var list []struct {
		Subject string `db:"subject"`
		Seq     int64  `db:"seq"`
	}
	if err := k.s.db.SelectContext(k.ctx, &list, "SELECT subject, seq FROM log_ends ORDER BY subject"); err != nil {
		return
	}
	for _, e := range list {
		ctx, cancel := context.WithTimeout(k.ctx, longestAsked)
		var err error
		if name, thing := cutThing(e.Subject); thing {
			err = k.log.Drop(ctx, name)
		} else {
			err = k.log.Forget(ctx, e.Subject, uint64(e.Seq))
		}
		cancel()
		if err != nil {
			k.report.Warn("the shared log forgets later", "subject", e.Subject, "err", err)
			return
		}
		k.turn.Lock()
		_, err = k.write.ExecContext(k.ctx, "DELETE FROM log_ends WHERE subject = ? AND seq = ?", e.Subject, e.Seq)
		k.turn.Unlock()
		if err != nil {
			return
		}
	}
}
