package store

import (
	"encoding/base64"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"github.com/jmoiron/sqlx"
)

// row is one of a table, by the names of its columns, each as SQLite has it: nil, int64, float64, string or []byte.
type row map[string]any

// eachRow hands over what a query finds, row by row, until it is through or do fails.
func eachRow(db sqlx.Queryer, do func(row) error, query string, args ...any) error {
	rows, err := db.Queryx(query, args...)
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		r := row{}
		if err := rows.MapScan(r); err != nil {
			return err
		}
		if err := do(r); err != nil {
			return err
		}
	}
	return rows.Err()
}

// put adds a row to a table; instead says what happens where it is there already, "" for a fault.
func put(tx sqlx.Execer, table, instead string, r row) error {
	columns := make([]string, 0, len(r))
	for c := range r {
		columns = append(columns, c)
	}
	slices.Sort(columns)
	args := make([]any, len(columns))
	for i, c := range columns {
		args[i] = r[c]
		columns[i] = `"` + strings.ReplaceAll(c, `"`, `""`) + `"`
	}
	_, err := tx.Exec(fmt.Sprintf("INSERT %s INTO %s (%s) VALUES (%s)", instead, table, strings.Join(columns, ", "),
		strings.TrimSuffix(strings.Repeat("?, ", len(columns)), ", ")), args...)
	return err
}

// columnsOf are the columns of a table, none where there is no such table; keys are those of its primary key, in order.
func columnsOf(db sqlx.Queryer, table string) (columns, keys []string, err error) {
	var list []struct {
		Name string `db:"name"`
		PK   int    `db:"pk"`
	}
	if err := sqlx.Select(db, &list, "SELECT name, pk FROM pragma_table_info(?)", table); err != nil {
		return nil, nil, err
	}
	keys = make([]string, len(list))
	n := 0
	for _, c := range list {
		columns = append(columns, c.Name)
		if c.PK > 0 {
			keys[c.PK-1] = c.Name
			n++
		}
	}
	return columns, keys[:n], nil
}

// written is how a value stands in an archive: what JSON has no form for says which it is.
type written struct {
	Base64   *string `json:"base64,omitempty"`   // of bytes
	Text64   *string `json:"text64,omitempty"`   // of a text that is no UTF-8
	File     string  `json:"file,omitempty"`     // beside it
	FileText string  `json:"fileText,omitempty"` // a text, beside it
}

// write makes a row fit for JSON; beside takes bytes that become a file of their own, or answers "".
func (r row) write(beside func(column string, raw []byte) (string, error)) (map[string]any, error) {
	out := map[string]any{}
	for c, v := range r {
		switch v := v.(type) {
		case []byte:
			name, err := beside(c, v)
			if err != nil {
				return nil, err
			}
			if name != "" {
				out[c] = written{File: name}
				continue
			}
			text := base64.StdEncoding.EncodeToString(v)
			out[c] = written{Base64: &text}
		case string:
			if utf8.ValidString(v) {
				out[c] = v
				continue
			}
			text := base64.StdEncoding.EncodeToString([]byte(v))
			out[c] = written{Text64: &text}
		default:
			out[c] = v
		}
	}
	return out, nil
}

// readRow reads a row as it was written; beside reads a file that is named.
func readRow(raw map[string]json.RawMessage, beside func(name string) ([]byte, error)) (row, error) {
	r := row{}
	for c, text := range raw {
		v, err := readValue(text, beside)
		if err != nil {
			return nil, fmt.Errorf("%s: %w", c, err)
		}
		r[c] = v
	}
	return r, nil
}

func readValue(text json.RawMessage, beside func(name string) ([]byte, error)) (any, error) {
	if len(text) == 0 || text[0] != '{' {
		var v any
		d := json.NewDecoder(strings.NewReader(string(text)))
		d.UseNumber()
		if err := d.Decode(&v); err != nil {
			return nil, err
		}
		n, number := v.(json.Number)
		if !number {
			switch v.(type) {
			case nil, string:
				return v, nil
			}
			return nil, fmt.Errorf("%s is neither a number nor a text", text)
		}
		if i, err := n.Int64(); err == nil {
			return i, nil
		}
		return n.Float64()
	}
	var w written
	if err := json.Unmarshal(text, &w); err != nil {
		return nil, err
	}
	switch {
	case w.File != "":
		return beside(w.File)
	case w.FileText != "":
		raw, err := beside(w.FileText)
		return string(raw), err
	case w.Base64 != nil:
		return base64.StdEncoding.DecodeString(*w.Base64)
	case w.Text64 != nil:
		raw, err := base64.StdEncoding.DecodeString(*w.Text64)
		return string(raw), err
	}
	return nil, fmt.Errorf("%s says nothing", text)
}
