package store

import (
	"cmp"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"github.com/jmoiron/sqlx"
)

// table is one whose rows are shared: its columns, which of them are its key, and what its rows are about.
type table struct {
	name    string
	columns []string
	keys    []int
	parents []parent // rows that one of it belongs to
	order   int      // after those of its parents
	about   func(about, row) (subject string, err error)
}

// parent is a row that another belongs to, by its column.
type parent struct {
	Column string `db:"from"`
	Table  string `db:"table"`
	Key    string `db:"to"`
}

// Columns that each file has for itself, and rows of tables that it makes anew: they are not shared.
var (
	ownColumns = map[string][]string{"revisions": {"pack_id"}}
	ownTables  = []string{"about", "cards", "packs", "log_at", "log_ends", "goose_db_version", "sqlite_sequence"}
)

// subjects says what the rows of each table are about. Whatever a change reads to decide something is about a subject
// that it writes to, so that the log refuses it where that is not so any more: who may do what in a household, and the
// boards that its projects claim, are of the household; see also [everybody].
var subjects = map[string]func(about, row) (string, error){
	"projects":      func(_ about, r row) (string, error) { return ofProjectIn(r["household_id"], r["id"]), nil },
	"revisions":     about.project,
	"ticks":         about.project,
	"events":        about.project,
	"takings":       about.project,
	"goods":         about.project,
	"sizes":         about.project,
	"photos":        about.project,
	"pins":          about.project,
	"claims":        about.projectHousehold,
	"project_roles": about.projectHousehold,
	"households":    func(_ about, r row) (string, error) { return ofHouse(r["id"]), nil },
	"members":       about.household,
	"habits":        about.household,
	"shed":          about.household,
	"stuff":         about.household,
	"shops":         about.household,
	"quotes":        about.shop,
	"links":         about.link,
	"accounts":      func(_ about, r row) (string, error) { return ofAccount(r["id"]), nil },
	"passkeys":      about.account,
	"devices":       about.account,
	"signins":       about.account,
	"happenings":    about.account,
	"sessions":      func(_ about, r row) (string, error) { return "s." + spread(r["token"]), nil },
	"found":         func(_ about, r row) (string, error) { return "f." + spread(r["job"]), nil },
}

// whole are the rows with which all that a subject is about goes.
var whole = []string{"projects", "households", "accounts"}

// everybody is the subject that an account's coming, going and being called otherwise is of as well, without a word.
const everybody = "people"

func ofHouse(household any) string              { return fmt.Sprintf("h.%v", household) }
func ofAccount(account any) string              { return fmt.Sprintf("a.%v", account) }
func ofProjectIn(household, project any) string { return fmt.Sprintf("h.%v.p.%v", household, project) }

// spread is one of 256 subjects for rows that have nothing to do with each other.
func spread(key any) string {
	sum := sha256.Sum256(fmt.Append(nil, key))
	return hex.EncodeToString(sum[:1])
}

// about looks up what a row is about: in the file, and where that has it no more, in what the change took away.
type about struct {
	tx  *sqlx.Tx
	was *caught
}

func (a about) of(table, column string, id any) (any, error) {
	var v any
	err := a.tx.Get(&v, fmt.Sprintf("SELECT %s FROM %s WHERE id = ?", column, table), id)
	if errors.Is(err, sql.ErrNoRows) {
		if c := a.was.rows[table+"\x00"+fmt.Sprint(id)]; c != nil && c.before != nil {
			return c.before[column], nil
		}
		err = fmt.Errorf("%s %v is nowhere", table, id)
	}
	return v, err
}

func (a about) project(r row) (string, error) {
	h, err := a.of("projects", "household_id", r["project_id"])
	return ofProjectIn(h, r["project_id"]), err
}

func (a about) projectHousehold(r row) (string, error) {
	h, err := a.of("projects", "household_id", r["project_id"])
	return ofHouse(h), err
}

func (about) household(r row) (string, error) { return ofHouse(r["household_id"]), nil }
func (about) account(r row) (string, error)   { return ofAccount(r["account_id"]), nil }

func (a about) shop(r row) (string, error) {
	h, err := a.of("shops", "household_id", r["shop_id"])
	return ofHouse(h), err
}

func (a about) link(r row) (string, error) {
	switch {
	case r["household_id"] != nil:
		return a.household(r)
	case r["project_id"] != nil:
		return a.projectHousehold(r)
	case r["account_id"] != nil:
		return a.account(r)
	}
	return everybody, nil
}

// tablesOf are the tables whose rows are shared.
func tablesOf(db *sqlx.DB) (map[string]*table, error) {
	var names []string
	if err := db.Select(&names, "SELECT name FROM sqlite_master WHERE type = 'table'"); err != nil {
		return nil, err
	}
	list := map[string]*table{}
	for _, name := range names {
		if slices.Contains(ownTables, name) || strings.HasPrefix(name, "sqlite_") {
			continue
		}
		t := &table{name: name, about: subjects[name]}
		if t.about == nil {
			return nil, fmt.Errorf("nobody says what the rows of %s are about", name)
		}
		columns, keys, err := columnsOf(db, name)
		if err != nil {
			return nil, err
		}
		t.columns = columns
		for _, k := range keys {
			t.keys = append(t.keys, slices.Index(columns, k))
		}
		if err := db.Select(&t.parents, `SELECT "from", "table", "to" FROM pragma_foreign_key_list(?)`, name); err != nil {
			return nil, err
		}
		list[name] = t
	}
	for range list { // each pass puts those right whose parents are
		for _, t := range list {
			for _, p := range t.parents {
				if p.Table != t.name {
					t.order = max(t.order, list[p.Table].order+1)
				}
			}
		}
	}
	return list, nil
}

// inOrder are the tables, parents first.
func inOrder(tables map[string]*table) []*table {
	return slices.SortedFunc(maps.Values(tables), func(a, b *table) int {
		return cmp.Or(cmp.Compare(a.order, b.order), cmp.Compare(a.name, b.name))
	})
}

func (t *table) key(values []any) string {
	b := []byte(t.name)
	for _, k := range t.keys {
		b = fmt.Appendf(append(b, 0), "%v", values[k])
	}
	return string(b)
}

// where finds a row by its key.
func (t *table) where() string {
	parts := make([]string, len(t.keys))
	for i, k := range t.keys {
		parts[i] = `"` + t.columns[k] + `" = ?`
	}
	return " WHERE " + strings.Join(parts, " AND ")
}

func (t *table) keyOf(r row) []any {
	list := make([]any, len(t.keys))
	for i, k := range t.keys {
		list[i] = r[t.columns[k]]
	}
	return list
}
