package store

import (
	"bytes"
	"cmp"
	"compress/flate"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"reflect"
	"slices"
	"strings"

	"github.com/jmoiron/sqlx"
	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"
)

// caught is what a change did to rows: each as it was before, nil where there was none.
type caught struct {
	k    *shared
	rows map[string]*touched
	err  error
}

type touched struct {
	table  *table
	key    row
	before row
}

// watched does something to the file with this store's connection, and returns what it did.
func (k *shared) watched(do func() error) (*caught, error) {
	seen := &caught{k: k, rows: map[string]*touched{}}
	if err := k.watch(seen.note); err != nil {
		return nil, err
	}
	err := do()
	return seen, errors.Join(err, k.watch(nil))
}

// watch has the driver tell of each row that is changed by this store's connection.
func (k *shared) watch(tell sqlite.PreUpdateHookFn) error {
	return k.write.Raw(func(c any) error {
		h, ok := c.(sqlite.HookRegisterer)
		if !ok {
			return errors.New("this driver does not say what is changed")
		}
		h.RegisterPreUpdateHook(tell)
		return nil
	})
}

func (c *caught) note(d sqlite.SQLitePreUpdateData) {
	t := c.k.tables[d.TableName]
	if t == nil || d.DatabaseName != "main" || c.err != nil {
		return
	}
	values := make([]any, len(t.columns))
	if d.Op == sqlite3.SQLITE_INSERT {
		if c.err = d.New(values...); c.err != nil {
			return
		}
	} else if c.err = d.Old(values...); c.err != nil {
		return
	}
	key := t.key(values)
	if c.rows[key] != nil {
		return // how it was is known
	}
	r := row{}
	for i, v := range values {
		r[t.columns[i]] = v
	}
	at := &touched{table: t, key: row{}}
	for _, i := range t.keys {
		at.key[t.columns[i]] = values[i]
	}
	if d.Op != sqlite3.SQLITE_INSERT {
		at.before = r
	}
	c.rows[key] = at
}

// loggedRow is a row in a piece: put as a whole, set in part, or gone.
type loggedRow struct {
	Table string                     `json:"t"`
	Put   map[string]json.RawMessage `json:"put,omitempty"`
	Set   map[string]json.RawMessage `json:"set,omitempty"`
	Gone  bool                       `json:"gone,omitempty"`
	Key   map[string]json.RawMessage `json:"key,omitempty"`
}

// loggedPiece is what a piece says.
type loggedPiece struct {
	Schema int64       `json:"v"`
	Rows   []loggedRow `json:"rows"`
}

// thing is what is too large for a piece.
type thing struct {
	name string
	body []byte
}

const (
	largestValue = 64 << 10  // in a piece; what is larger is a thing
	largestRead  = 256 << 20 // of a piece, unpacked
	thingMark    = "thing "
)

func cutThing(subject string) (string, bool) { return strings.CutPrefix(subject, thingMark) }

// thingName is what a large value of a row is called: the same one is never there twice.
func thingName(subject string, t *table, r row, column string, body []byte) string {
	sum := sha256.Sum256(body)
	return fmt.Sprintf("%s/%s/%v/%s/%s", strings.ReplaceAll(subject, ".", "/"), t.name, t.keyOf(r)[0], column,
		hex.EncodeToString(sum[:12]))
}

// pieces are what the change is in the log: a piece for each subject, in their order, the things that are to be put
// beside it before, and what ends with it.
func (c *caught) pieces(tx *sqlx.Tx) (pieces []Piece, things []thing, ends []string, err error) {
	if c.err != nil {
		return nil, nil, nil, c.err
	}
	a := about{tx, c}
	of := map[string]*loggedPiece{}
	keys := slices.SortedFunc(maps.Keys(c.rows), func(a, b string) int {
		return cmp.Or(cmp.Compare(c.rows[a].table.order, c.rows[b].table.order), cmp.Compare(a, b))
	})
	for _, key := range keys {
		at := c.rows[key]
		after, err := rowAt(tx, at.table, at.key)
		if err != nil {
			return nil, nil, nil, err
		}
		if at.before == nil && after == nil {
			continue
		}
		subject, err := at.table.about(a, cmpRow(after, at.before))
		if err != nil {
			return nil, nil, nil, err
		}
		r := loggedRow{Table: at.table.name}
		beside := func(r row, list *[]thing) (map[string]json.RawMessage, error) {
			return writeRow(r, func(column string, raw []byte) string {
				name := thingName(subject, at.table, at.key, column, raw)
				*list = append(*list, thing{name, raw})
				return name
			})
		}
		changed := row{}
		for column, v := range after {
			if slices.Contains(ownColumns[at.table.name], column) {
				continue
			}
			if at.before == nil || !reflect.DeepEqual(v, at.before[column]) {
				changed[column] = v
			}
		}
		var gone []thing
		switch {
		case after == nil:
			r.Gone = true
			if _, err = beside(at.before, &gone); err == nil && slices.Contains(whole, at.table.name) {
				ends = append(ends, subject)
			}
		case len(changed) == 0:
			continue
		case at.before == nil:
			r.Put, err = beside(changed, &things)
		default:
			was := row{}
			for column := range changed {
				was[column] = at.before[column]
			}
			if _, err = beside(was, &gone); err == nil {
				r.Set, err = beside(changed, &things)
			}
		}
		if err == nil && r.Put == nil {
			r.Key, err = writeRow(at.key, nil)
		}
		if err != nil {
			return nil, nil, nil, err
		}
		_, named := changed["name"]
		if at.table.name == "accounts" && (at.before == nil || after == nil || named) && of[everybody] == nil {
			of[everybody] = &loggedPiece{Schema: c.k.schema}
		}
		for _, t := range gone {
			ends = append(ends, thingMark+t.name)
		}
		if of[subject] == nil {
			of[subject] = &loggedPiece{Schema: c.k.schema}
		}
		of[subject].Rows = append(of[subject].Rows, r)
	}
	for _, subject := range slices.Sorted(maps.Keys(of)) {
		body, err := packPiece(of[subject])
		if err != nil {
			return nil, nil, nil, err
		}
		pieces = append(pieces, Piece{Subject: subject, Body: body})
	}
	return pieces, things, ends, nil
}

func cmpRow(after, before row) row {
	if after != nil {
		return after
	}
	return before
}

// rowAt is a row by its key, nil where there is none.
func rowAt(tx sqlx.Queryer, t *table, key row) (found row, err error) {
	err = eachRow(tx, func(r row) error { found = r; return nil }, "SELECT * FROM "+t.name+t.where(), t.keyOf(key)...)
	return found, err
}

// writeRow writes a row; what is large goes beside it, where beside is given.
func writeRow(r row, beside func(column string, raw []byte) string) (map[string]json.RawMessage, error) {
	list, err := r.write(func(column string, raw []byte) (string, error) {
		if beside != nil && len(raw) > largestValue {
			return beside(column, raw), nil
		}
		return "", nil
	})
	if err != nil {
		return nil, err
	}
	out := map[string]json.RawMessage{}
	for column, v := range list {
		if text, is := v.(string); is && beside != nil && len(text) > largestValue {
			v = written{FileText: beside(column, []byte(text))}
		}
		if out[column], err = json.Marshal(v); err != nil {
			return nil, err
		}
	}
	return out, nil
}

func packPiece(p *loggedPiece) ([]byte, error) {
	raw, err := json.Marshal(p)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	w, err := flate.NewWriter(&out, flate.DefaultCompression)
	if err == nil {
		_, err = w.Write(raw)
	}
	if err == nil {
		err = w.Close()
	}
	return out.Bytes(), err
}

func unpackPiece(body []byte) (p loggedPiece, err error) {
	raw, err := io.ReadAll(io.LimitReader(flate.NewReader(bytes.NewReader(body)), largestRead))
	if err == nil {
		err = json.Unmarshal(raw, &p)
	}
	return p, err
}
