package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"github.com/jmoiron/sqlx"
)

// errNoSense says that others' changes cannot be taken: this program is older than theirs, or the log is damaged.
var errNoSense = errors.New("what others have changed cannot be taken")

// errAbsent says that a thing is not beside the log any more: what named it has been deleted since.
var errAbsent = errors.New("it is not there any more")

// mostNames is how many of this store's changes are remembered that have come back: more than there can be of in the
// time that one is tried.
const mostNames = 100_000

// apply takes others' changes into the file, all of them or none; its own are there.
func (k *shared) apply(list []Logged) error {
	if len(list) == 0 {
		return nil
	}
	heard := Heard{Projects: map[int64][]Revision{}, Households: map[int64]bool{}}
	k.turn.Lock()
	err := inOne(k.ctx, k.take, func(tx *sqlx.Tx) error {
		if _, err := tx.Exec("PRAGMA defer_foreign_keys = 1"); err != nil {
			return err
		}
		var come []*placed
		for _, l := range list {
			var at int64
			if err := tx.Get(&at, "SELECT coalesce((SELECT seq FROM log_at WHERE subject = ?), 0)", l.Subject); err != nil {
				return err
			}
			if uint64(at) >= l.Seq {
				continue
			}
			if err := k.piece(tx, l, &heard, &come); err != nil {
				return fmt.Errorf("%d, of %s: %w", l.Seq, l.Subject, err)
			}
			if err := noteAt(tx, l.Subject, l.Seq); err != nil {
				return err
			}
		}
		for _, p := range come {
			if err := p.orphaned(tx); err != nil {
				return err
			}
		}
		return noteAt(tx, "", list[len(list)-1].Seq)
	})
	k.turn.Unlock()
	if err != nil && Why(err) == "" && !unreached(err) && !errors.Is(err, errNoSense) && k.ctx.Err() == nil {
		err = fmt.Errorf("%w: %w", errNoSense, err) // it will not be otherwise the next time
	}
	k.mu.Lock()
	k.stuck = err
	k.mu.Unlock()
	if err != nil {
		return err
	}
	k.mu.Lock()
	mine := fmt.Sprintf("%d-", k.log.Node())
	for _, l := range list {
		if name, _, ok := strings.Cut(l.Name, "."); ok && strings.HasPrefix(name, mine) {
			if len(k.names) >= mostNames {
				k.names, k.older = map[string]bool{}, k.names
			}
			k.names[name] = true
		}
	}
	k.mu.Unlock()
	k.reached(list[len(list)-1].Seq)
	k.mu.Lock()
	tell := k.tell
	k.mu.Unlock()
	tell(heard)
	return nil
}

// placed is a row that was put in.
type placed struct {
	t   *table
	row row
}

// orphaned takes a row out again whose parent is gone: somebody deleted that while the row was on its way. Where the
// row came first it went with its parent; so every view comes to the same.
func (p *placed) orphaned(tx *sqlx.Tx) error {
	for _, of := range p.t.parents {
		if p.row[of.Column] == nil {
			continue
		}
		var there bool
		if err := tx.Get(&there, fmt.Sprintf(`SELECT EXISTS (SELECT 1 FROM %s WHERE "%s" = ?)`, of.Table, of.Key),
			p.row[of.Column]); err != nil {
			return err
		}
		if !there {
			_, err := tx.Exec("DELETE FROM "+p.t.name+p.t.where(), p.t.keyOf(p.row)...)
			return err
		}
	}
	return nil
}

func (k *shared) piece(tx *sqlx.Tx, l Logged, heard *Heard, come *[]*placed) error {
	p, err := unpackPiece(l.Body)
	if err != nil {
		return fmt.Errorf("%w: %v", errNoSense, err)
	}
	if p.Schema > k.schema {
		return fmt.Errorf("%w: they are of a newer Chamfer (tables of version %d, and this program knows %d): stop this one"+
			" and start the newer", errNoSense, p.Schema, k.schema)
	}
	for _, r := range p.Rows {
		t := k.tables[r.Table]
		if t == nil {
			return fmt.Errorf("%w: there is no table %q", errNoSense, r.Table)
		}
		err := k.row(tx, t, r, heard, come)
		if errors.Is(err, errAbsent) {
			k.report.Warn("the shared log", "left out", r.Table, "seq", l.Seq, "err", err)
			continue
		}
		if err != nil {
			return fmt.Errorf("%s: %w", r.Table, err)
		}
	}
	return nil
}

func (k *shared) row(tx *sqlx.Tx, t *table, r loggedRow, heard *Heard, come *[]*placed) error {
	beside := func(name string) ([]byte, error) {
		body, err := k.log.Get(k.ctx, name)
		switch {
		case err != nil:
			err = fmt.Errorf("%w: %s: %w", ErrUnsaid, name, err)
		case body == nil:
			err = fmt.Errorf("%s: %w", name, errAbsent)
		}
		return body, err
	}
	read := func(raw map[string]json.RawMessage) (row, error) {
		list, err := readRow(raw, beside)
		if err != nil && !errors.Is(err, errAbsent) && !unreached(err) {
			err = fmt.Errorf("%w: %v", errNoSense, err)
		}
		for column := range list {
			if !slices.Contains(t.columns, column) {
				return nil, fmt.Errorf("%w: %s has no column %q", errNoSense, t.name, column)
			}
		}
		return list, err
	}
	key, err := read(r.Key)
	if err != nil {
		return err
	}
	for _, i := range t.keys {
		if _, has := key[t.columns[i]]; !has && r.Put == nil {
			return fmt.Errorf("%w: a row of %s without its key", errNoSense, t.name)
		}
	}
	switch {
	case r.Gone:
		if err := k.note(tx, t, key, heard); err != nil {
			return err
		}
		_, err := tx.Exec("DELETE FROM "+t.name+t.where(), t.keyOf(key)...)
		return err
	case r.Put != nil:
		whole, err := read(r.Put)
		if err != nil {
			return err
		}
		for _, i := range t.keys {
			if whole[t.columns[i]] == nil {
				return fmt.Errorf("%w: a row of %s without its key", errNoSense, t.name)
			}
		}
		if err := t.put(tx, whole); err != nil {
			return err
		}
		*come = append(*come, &placed{t, whole})
		return k.note(tx, t, whole, heard)
	}
	set, err := read(r.Set)
	if err != nil || len(set) == 0 {
		return err
	}
	if head, ok := set["head"].(int64); ok && t.name == "projects" {
		if err := unpackRevision(tx, head); err != nil {
			return err
		}
	}
	var parts []string
	var args []any
	for _, column := range slices.Sorted(maps.Keys(set)) {
		parts, args = append(parts, `"`+column+`" = ?`), append(args, set[column])
	}
	if _, err := tx.Exec("UPDATE "+t.name+" SET "+strings.Join(parts, ", ")+t.where(),
		append(args, t.keyOf(key)...)...); err != nil {
		return err
	}
	return k.note(tx, t, key, heard)
}

// put puts a row in, in place of what there is of its key.
func (t *table) put(tx *sqlx.Tx, r row) error {
	var keys, columns, marks, sets []string
	var args []any
	for _, i := range t.keys {
		keys = append(keys, `"`+t.columns[i]+`"`)
	}
	for _, c := range slices.Sorted(maps.Keys(r)) {
		columns, marks, args = append(columns, `"`+c+`"`), append(marks, "?"), append(args, r[c])
		sets = append(sets, fmt.Sprintf(`"%s" = excluded."%s"`, c, c))
	}
	_, err := tx.Exec(fmt.Sprintf("INSERT INTO %s (%s) VALUES (%s) ON CONFLICT (%s) DO UPDATE SET %s", t.name,
		strings.Join(columns, ", "), strings.Join(marks, ", "), strings.Join(keys, ", "), strings.Join(sets, ", ")), args...)
	return err
}

// unreached reports whether a fault is the way to the log's, which comes again.
func unreached(err error) bool {
	return errors.Is(err, ErrUnsaid) || errors.Is(err, context.DeadlineExceeded) || errors.Is(err, context.Canceled)
}

// note says in heard what a row is about.
func (k *shared) note(tx *sqlx.Tx, t *table, key row, heard *Heard) error {
	switch t.name {
	case "revisions":
		if project, ok := key["project_id"].(int64); ok {
			r := Revision{}
			r.Label, _ = key["label"].(string)
			if by, ok := key["account_id"].(int64); ok {
				if err := tx.Get(&r.Name, "SELECT coalesce((SELECT name FROM accounts WHERE id = ?), '')", by); err != nil {
					return err
				}
			}
			heard.Projects[project] = append(heard.Projects[project], r)
		}
	case "projects":
		if id, ok := key["id"].(int64); ok {
			heard.Projects[id] = append(heard.Projects[id], Revision{})
		}
	case "ticks", "goods", "sizes", "takings", "photos":
		if id, ok := key["project_id"].(int64); ok {
			heard.Projects[id] = append(heard.Projects[id], Revision{})
		}
	case "accounts", "members", "project_roles", "signins", "links", "sessions":
		heard.Access = true
	case "found":
		heard.Found = true
	case "households", "habits", "shed", "stuff", "shops":
		if id, ok := key["household_id"].(int64); ok {
			heard.Households[id] = true
		}
	}
	return nil
}
