package store

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"github.com/jmoiron/sqlx"
)

// errNoSense says that others' changes cannot be taken: this program is older than theirs, or the log is damaged.
var errNoSense = errors.New("what others have changed cannot be taken")

// errAbsent says that a thing is not beside the log any more: what named it has been deleted since.
var errAbsent = errors.New("it is not there any more")

const clusterKey = "cluster"

// mostNames is how many of this store's changes are remembered that have come back: more than there can be of in the
// time that one is tried.
const mostNames = 100_000

// begin brings the file and the log together: see [Store.Share].
func (k *shared) begin(ctx context.Context) error {
	var of []string
	if err := k.s.db.SelectContext(ctx, &of, "SELECT value FROM about WHERE key = ?", clusterKey); err != nil {
		return err
	}
	var some bool
	if err := k.s.db.GetContext(ctx, &some, "SELECT EXISTS (SELECT 1 FROM projects) OR EXISTS (SELECT 1 FROM accounts)"+
		" OR EXISTS (SELECT 1 FROM shed) OR EXISTS (SELECT 1 FROM shops)"); err != nil {
		return err
	}
	refuse := func(why string) error {
		return &Refused{k.s.path, ErrApart, why + ": name a new file with --data, or bring what is in this one to the" +
			" others by “chamfer archive”"}
	}
	_, last, err := k.log.Last(ctx)
	if err != nil {
		return err
	}
	name, copied, err := k.log.Newest(ctx)
	if err != nil {
		return err
	}
	trimmed, err := k.log.Trimmed(ctx)
	if err != nil {
		return err
	}
	var at int64
	if err := k.s.db.GetContext(ctx, &at, "SELECT coalesce((SELECT seq FROM log_at WHERE subject = ''), 0)"); err != nil {
		return err
	}
	switch {
	case len(of) > 0 && of[0] != k.log.Cluster():
		return refuse("it was a view of another log")
	case len(of) == 0 && last > 0 && some:
		return refuse("it has projects of its own, and the log has others'")
	case len(of) > 0 && uint64(at) > last:
		return refuse(fmt.Sprintf("it has the log up to %d, and the log ends at %d", at, last))
	case len(of) == 0 && last == 0 && some:
		if first, err := k.log.First(ctx); err != nil {
			return err
		} else if !first {
			return refuse("another file is being put into the log")
		}
		if err := k.seed(ctx); err != nil {
			return err
		}
	case name != "" && (len(of) == 0 || uint64(at) < trimmed):
		if err := k.fill(ctx, name); err != nil {
			return err
		}
		at = int64(copied)
	case uint64(at) < trimmed:
		return refuse(fmt.Sprintf("the log has been cut up to %d, and there is no copy beside it", trimmed))
	case len(of) == 0:
		if err := k.clear(ctx); err != nil {
			return err
		}
	}
	if _, err := k.s.db.ExecContext(ctx, "INSERT INTO about (key, value) VALUES (?, ?) ON CONFLICT DO UPDATE SET value ="+
		" excluded.value", clusterKey, k.log.Cluster()); err != nil {
		return err
	}
	k.at = uint64(at)
	return nil
}

// clear takes out the household that every new file has: the log says which there are.
func (k *shared) clear(ctx context.Context) error {
	for _, t := range inOrder(k.tables) {
		if _, err := k.take.ExecContext(ctx, "DELETE FROM "+t.name); err != nil {
			return err
		}
	}
	_, err := k.take.ExecContext(ctx, "DELETE FROM log_at")
	return err
}

// fill takes all rows from a copy of another's file.
func (k *shared) fill(ctx context.Context, name string) error {
	dir, err := os.MkdirTemp(filepath.Dir(k.s.path), ".chamfer-shared-*")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	from := filepath.Join(dir, "copy.db")
	if err := k.log.Fetch(ctx, name, from); err != nil {
		return err
	}
	if _, err := Check(from); err != nil {
		return err
	}
	db, err := connect(from, "rw")
	if err != nil {
		return err
	}
	if err := errors.Join(migrate(db, 0), db.Close()); err != nil {
		return err
	}
	if err := k.clear(ctx); err != nil {
		return err
	}
	if _, err := k.take.ExecContext(ctx, "ATTACH ? AS copied", from); err != nil {
		return err
	}
	names := []string{"log_at"}
	for _, t := range inOrder(k.tables) {
		names = append(names, t.name)
	}
	err = inOne(ctx, k.take, func(tx *sqlx.Tx) error {
		if _, err := tx.Exec("PRAGMA defer_foreign_keys = 1"); err != nil {
			return err
		}
		for _, t := range append(names, "packs") {
			columns, _, err := columnsOf(tx, t)
			if err != nil {
				return err
			}
			list := `"` + strings.Join(columns, `", "`) + `"`
			if _, err := tx.Exec(fmt.Sprintf("INSERT INTO main.%s (%s) SELECT %s FROM copied.%s", t, list, list,
				t)); err != nil {
				return fmt.Errorf("%s: %w", t, err)
			}
		}
		return nil
	})
	_, bad := k.take.ExecContext(ctx, "DETACH copied")
	return errors.Join(err, bad)
}

// seed puts what is in the file into a log that has nothing. Where two begin at once, one is refused.
func (k *shared) seed(ctx context.Context) error {
	return inOne(ctx, k.take, func(tx *sqlx.Tx) error {
		of := map[string][]*loggedPiece{}
		size := map[string]int{}
		a := about{tx, &caught{k: k, rows: map[string]*touched{}}}
		for _, t := range inOrder(k.tables) {
			name := t.name
			var packs packedDesigns
			err := eachRow(tx, func(r row) error {
				subject, err := t.about(a, r)
				if err == nil && name == "revisions" {
					err = unpackRow(tx, &packs, r)
				}
				if err != nil {
					return err
				}
				var things []thing
				put, err := writeRow(r, func(column string, raw []byte) string {
					things = append(things, thing{thingName(subject, t, r, column, raw), raw})
					return things[len(things)-1].name
				})
				if err != nil {
					return err
				}
				for _, th := range things {
					if err := k.log.Put(ctx, th.name, th.body); err != nil {
						return err
					}
				}
				n := 0
				for _, v := range put {
					n += len(v)
				}
				if of[subject] == nil || size[subject]+n > 4*largestValue {
					of[subject], size[subject] = append(of[subject], &loggedPiece{Schema: k.schema}), 0
				}
				size[subject] += n
				last := of[subject][len(of[subject])-1]
				last.Rows = append(last.Rows, loggedRow{Table: name, Put: put})
				return nil
			}, "SELECT * FROM "+name)
			if err != nil {
				return fmt.Errorf("%s: %w", name, err)
			}
		}
		// What is of projects first, then of accounts, then of households: what belongs to another comes after it.
		first := func(subject string) int {
			switch {
			case strings.Contains(subject, ".p."):
				return 0
			case strings.HasPrefix(subject, "a."):
				return 1
			}
			return 2
		}
		for _, subject := range slices.SortedFunc(maps.Keys(of), func(a, b string) int {
			return cmp.Or(cmp.Compare(first(a), first(b)), cmp.Compare(a, b))
		}) {
			after := uint64(0)
			for i, p := range of[subject] {
				body, err := packPiece(p)
				if err != nil {
					return err
				}
				after, err = k.log.Append(ctx, fmt.Sprintf("%d-first-%s-%d", k.log.Node(), subject, i),
					[]Piece{{subject, after, body}})
				if err != nil {
					return fmt.Errorf("put what there is into the log, %s: %w", subject, err)
				}
			}
			if err := noteAt(tx, subject, after); err != nil {
				return err
			}
		}
		return nil
	})
}

func inOne(ctx context.Context, conn *sqlx.Conn, do func(*sqlx.Tx) error) error {
	tx, err := conn.BeginTxx(ctx, nil)
	if err != nil {
		return err
	}
	if err := do(tx); err != nil {
		return errors.Join(err, tx.Rollback())
	}
	return tx.Commit()
}

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

// PutCopy puts a copy of the file beside the shared log, for whoever comes to it anew; without one nothing is done.
func (s *Store) PutCopy(ctx context.Context, path string) error {
	if s.view == nil {
		return nil
	}
	db, err := connect(path, "ro")
	if err != nil {
		return err
	}
	var at int64
	err = db.GetContext(ctx, &at, "SELECT coalesce((SELECT seq FROM log_at WHERE subject = ''), 0)")
	if err := errors.Join(err, db.Close()); err != nil {
		return err
	}
	return s.view.log.Store(ctx, path, uint64(at))
}

// Rows are all rows that are shared, in an order of their own: what two views of one log have alike.
func (s *Store) Rows(ctx context.Context) string {
	tables, err := tablesOf(s.db)
	if err != nil {
		return err.Error()
	}
	var out strings.Builder
	for _, name := range slices.Sorted(maps.Keys(tables)) {
		var lines []string
		var packs packedDesigns
		err := eachRow(s.db, func(r row) error {
			if name == "revisions" {
				if err := unpackRow(s.db, &packs, r); err != nil {
					return err
				}
			}
			raw, err := writeRow(r, nil)
			if err == nil {
				var line []byte
				if line, err = json.Marshal(raw); err == nil {
					lines = append(lines, name+" "+string(line))
				}
			}
			return err
		}, "SELECT * FROM "+name)
		if err != nil {
			return err.Error()
		}
		slices.Sort(lines)
		out.WriteString(strings.Join(append(lines, ""), "\n"))
	}
	return out.String()
}
