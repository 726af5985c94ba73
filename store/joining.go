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

const clusterKey = "cluster"

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
