package store

import (
	"database/sql"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"github.com/jmoiron/sqlx"
)

// Salvaged is what could be had of a damaged file.
type Salvaged struct {
	Was     string  // where the damaged file is kept
	Whole   int     // projects that stand as they stood
	Earlier []Stood // those at the newest revision that can be read, where the one they stood at is not known or cannot be
	Copied  []Stood // those that came from a copy
	Lost    []Stood // those of which there is nothing
	Copy    string  // the copy that was drawn on, "" for none
}

// Stood is a project and the revision it stands at now, 0 where it is lost.
type Stood struct {
	Project, Revision int64
	Name              string
}

// Salvage builds a new file of what can be read of a damaged one that nobody has open, row by row, fills what is
// missing
// of its projects from a copy where one is named, puts it in the place of the damaged one and keeps that aside. A file
// that
// holds together is not touched.
func Salvage(path, copied string) (found Salvaged, err error) {
	h, err := alone(path)
	if err != nil {
		return found, err
	}
	defer func() { err = errors.Join(err, h.free()) }()
	if _, err := Check(path); !errors.Is(err, ErrBroken) {
		if err == nil {
			err = errors.New("there is nothing to salvage")
		}
		return found, fmt.Errorf("%s: %w", path, err)
	}
	part := path + ".part"
	if found, err = salvage(path, part, copied); err != nil {
		return found, errors.Join(err, remove(part))
	}
	if found.Was, err = aside(path, Checked{}, true); err != nil {
		return found, errors.Join(err, remove(part))
	}
	if err := os.Rename(part, path); err != nil {
		return found, errors.Join(err, remove(part))
	}
	return found, syncFolder(path)
}

// Readable is what could be had of a damaged file, which is left as it is.
func Readable(path, copied string) (found Salvaged, err error) {
	dir, err := os.MkdirTemp(filepath.Dir(path), ".chamfer-salvage-*")
	if err != nil {
		return found, err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(dir)) }()
	return salvage(path, dir+"/part.db", copied)
}

func salvage(path, to, copied string) (found Salvaged, err error) {
	if err := errors.Join(remove(to), private(to)); err != nil {
		return found, err
	}
	twin := to + ".damaged" // reading puts the journal into the file: into its twin, then
	defer func() { err = errors.Join(err, remove(twin)) }()
	for _, end := range []string{"", "-wal"} {
		if err := twinOf(path+end, twin+end); err != nil && (end == "" || !errors.Is(err, os.ErrNotExist)) {
			return found, err
		}
	}
	from, err := connect(twin, "rw")
	if err != nil {
		return found, err
	}
	defer func() { _ = from.Close() }()
	from.SetMaxOpenConns(1)
	db, err := connect(to, "rw")
	if err != nil {
		return found, err
	}
	if err := unsynced(db); err != nil {
		return found, errors.Join(err, db.Close())
	}
	s := salvager{from: from, db: db}
	err = s.all(copied)
	if err := errors.Join(err, db.Close()); err != nil {
		return s.found, err
	}
	return s.found, settle(to)
}

func twinOf(from, to string) error {
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := os.OpenFile(to, os.O_WRONLY|os.O_CREATE|os.O_TRUNC, 0o600)
	if err != nil {
		return err
	}
	_, err = io.Copy(out, in)
	return errors.Join(err, out.Close())
}

type salvager struct {
	from, db *sqlx.DB
	found    Salvaged
	projects map[int64]string // every one that is spoken of, and its name
}

// all takes the rows of every table, mends what points to rows that are gone, and says how each project stands.
func (s *salvager) all(copied string) error {
	var at int64
	if err := s.from.Get(&at, "SELECT max(version_id) FROM goose_db_version WHERE is_applied"); err != nil || at < 1 {
		at = 0 // its tables are read as the newest are
	}
	if err := migrate(s.db, at); err != nil {
		return err
	}
	if _, err := s.db.Exec("PRAGMA foreign_keys = 0"); err != nil {
		return err
	}
	var tables []string
	if err := s.db.Select(&tables, "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'"+
		" AND name NOT LIKE 'goose_%' ORDER BY name"); err != nil {
		return err
	}
	for _, t := range tables {
		if err := s.table(t); err != nil {
			return fmt.Errorf("salvage %s: %w", t, err)
		}
	}
	if err := migrate(s.db, 0); err != nil {
		return err
	}
	for _, query := range []string{"DELETE FROM about WHERE key = '" + clusterKey + "'", "DELETE FROM log_at",
		"DELETE FROM log_ends"} { // what is missing here is not missing in a log that it was a view of: it is none any more
		if _, err := s.db.Exec(query); err != nil {
			return err
		}
	}
	heads, err := s.heads()
	if err != nil {
		return err
	}
	if copied != "" {
		if err := s.fill(copied, tables); err != nil {
			return err
		}
	}
	return s.settle(heads)
}

// table takes what rows of a table can be read: forward to where it is damaged, backward to there, and between them one
// by one where they have numbers.
func (s *salvager) table(name string) error {
	columns, keys, err := columnsOf(s.from, name)
	if err != nil || len(columns) == 0 {
		return nil // what its tables are cannot be read either
	}
	tx, err := s.db.Beginx()
	if err != nil {
		return err
	}
	order := strings.Join(keys, ", ")
	numbered := len(keys) == 1 && keys[0] == "id" && name != "passkeys"
	var last, first int64
	take := func(r row) error {
		_ = put(tx, name, "OR REPLACE", r) // one that does not keep to the table's rules is none
		return nil
	}
	forward := eachRow(s.from, func(r row) error {
		if n, ok := r["id"].(int64); ok {
			last = n
		}
		return take(r)
	}, fmt.Sprintf("SELECT * FROM %s NOT INDEXED ORDER BY %s", name, order))
	if forward != nil {
		_ = eachRow(s.from, func(r row) error {
			if n, ok := r["id"].(int64); ok {
				first = n
			}
			return take(r)
		}, fmt.Sprintf("SELECT * FROM %s NOT INDEXED ORDER BY %s DESC", name, strings.Join(keys, " DESC, ")))
		if numbered {
			if err := s.between(name, last, first, take); err != nil {
				return errors.Join(err, tx.Rollback())
			}
		}
	}
	return tx.Commit()
}

// mostBetween is how many numbers are tried in the damaged middle of a table.
const mostBetween = 2_000_000

func (s *salvager) between(name string, last, first int64, take func(row) error) error {
	if first == 0 { // nothing can be read from its end: the numbers that were given out say how far it goes
		if s.from.Get(&first, "SELECT seq FROM sqlite_sequence WHERE name = ?", name) != nil {
			first = last + 10_000
		}
		first++
	}
	for id := last + 1; id < min(first, last+mostBetween); id++ {
		_ = eachRow(s.from, take, "SELECT * FROM "+name+" NOT INDEXED WHERE id = ?", id)
	}
	return nil
}

// heads are the revisions that projects stood at, by what can be read of the damaged file; projects of which there are
// revisions alone are among them, with 0.
func (s *salvager) heads() (map[int64]int64, error) {
	s.projects = map[int64]string{}
	heads := map[int64]int64{}
	var list []struct {
		ID   int64  `db:"id"`
		Head int64  `db:"head"`
		Name string `db:"name"`
	}
	if err := s.db.Select(&list, "SELECT id, coalesce(head, 0) AS head, name FROM projects UNION ALL SELECT DISTINCT"+
		" project_id, 0, '' FROM revisions WHERE project_id NOT IN (SELECT id FROM projects)"); err != nil {
		return nil, err
	}
	for _, p := range list {
		heads[p.ID], s.projects[p.ID] = p.Head, p.Name
	}
	return heads, nil
}

// fill adds rows of a copy that are missing here. Of what was deleted since the copy was made some may come back.
func (s *salvager) fill(copied string, tables []string) error {
	from, err := connect(copied, "ro")
	if err != nil {
		return err
	}
	defer from.Close()
	s.found.Copy = copied
	for _, t := range tables {
		columns, _, err := columnsOf(s.db, t)
		if err != nil {
			return err
		}
		if slices.Contains([]string{"about", "log_at", "log_ends", "sessions", "signins", "devices", "links", "cards"}, t) ||
			len(columns) == 0 {
			continue
		}
		if err := eachRow(from, func(r row) error {
			for c := range r {
				if !slices.Contains(columns, c) {
					return fmt.Errorf("%s has no column %q", t, c)
				}
			}
			if t == "revisions" && r["design"] != "" { // where it was packed, and the pack is gone
				if _, err := s.db.Exec("UPDATE revisions SET design = ?, pack_id = NULL WHERE id = ? AND design = '' AND"+
					" coalesce(pack_id, 0) NOT IN (SELECT id FROM packs)", r["design"], r["id"]); err != nil {
					return err
				}
			}
			return put(s.db, t, "OR IGNORE", r)
		}, "SELECT * FROM "+t); err != nil {
			return fmt.Errorf("fill from %s: %w", copied, err)
		}
	}
	return nil
}

// settle gives every project the newest revision of it that can be read where its own cannot, takes away what points to
// nothing, and counts.
func (s *salvager) settle(heads map[int64]int64) error {
	now := time.Now().UTC().Format(time.RFC3339)
	if _, err := s.db.Exec("INSERT OR IGNORE INTO projects (id, head, created_at, updated_at) SELECT project_id, max(id),"+
		" min(created_at), ? FROM revisions WHERE project_id NOT IN (SELECT id FROM projects) GROUP BY project_id",
		now); err != nil {
		return err
	}
	var list []struct {
		ID   int64  `db:"id"`
		Head int64  `db:"head"`
		Name string `db:"name"`
	}
	if err := s.db.Select(&list, "SELECT id, coalesce(head, 0) AS head, name FROM projects ORDER BY id"); err != nil {
		return err
	}
	for _, p := range list {
		was, known := heads[p.ID]
		if known {
			p.Head = was // not the copy's; 0 where it cannot be read
		}
		at, err := s.newestOf(p.ID, p.Head)
		if err != nil {
			return err
		}
		stood := Stood{p.ID, at.Revision, at.Name}
		switch {
		case at.Revision == 0:
			stood.Name = p.Name
			s.found.Lost = append(s.found.Lost, stood)
			if _, err := s.db.Exec("DELETE FROM projects WHERE id = ?", p.ID); err != nil {
				return err
			}
			continue
		case !known:
			s.found.Copied = append(s.found.Copied, stood)
		case at.Revision == was:
			s.found.Whole++
		default:
			s.found.Earlier = append(s.found.Earlier, stood)
		}
		if _, err := s.db.Exec("UPDATE projects SET head = ?, name = ? WHERE id = ?", at.Revision, at.Name,
			p.ID); err != nil {
			return err
		}
		if err := unpackRevision(s.db, at.Revision); err != nil {
			return err
		}
	}
	return s.loose()
}

// newestOf is the head of a project where it can be read, or else the newest revision of it that can, 0 where none can.
func (s *salvager) newestOf(project, head int64) (Stood, error) {
	var list []struct {
		ID     int64         `db:"id"`
		Design string        `db:"design"`
		Pack   sql.NullInt64 `db:"pack_id"`
	}
	if err := s.db.Select(&list, "SELECT id, design, pack_id FROM revisions WHERE project_id = ? ORDER BY id = ? DESC,"+
		" id DESC", project, head); err != nil {
		return Stood{}, err
	}
	for _, r := range list {
		if r.Design == "" {
			var err error
			if r.Design, err = designIn(s.db, r.ID, r.Pack); err != nil {
				return Stood{}, err
			}
		}
		if d, err := read(project, r.ID, r.Design); err == nil {
			return Stood{project, r.ID, d.Name}, nil
		}
	}
	return Stood{}, nil
}

// loose takes away what points to rows that are gone: a parent, where it is one, the row itself otherwise.
func (s *salvager) loose() error {
	if _, err := s.db.Exec("UPDATE revisions SET parent_id = NULL WHERE parent_id NOT IN (SELECT id FROM" +
		" revisions)"); err != nil {
		return err
	}
	if _, err := s.db.Exec("INSERT OR IGNORE INTO households (id, name, created_at) SELECT DISTINCT household_id," +
		" 'A household', strftime('%Y-%m-%dT%H:%M:%SZ', 'now') FROM projects"); err != nil {
		return err
	}
	for {
		var links []struct {
			Table string `db:"table"`
			To    string `db:"parent"`
			Key   int    `db:"fkid"`
		}
		if err := s.db.Select(&links, `SELECT DISTINCT "table", parent, fkid FROM pragma_foreign_key_check`); err != nil {
			return err
		}
		if len(links) == 0 {
			return nil
		}
		for _, l := range links {
			var by struct {
				From string `db:"from"`
				To   string `db:"to"`
			}
			if err := s.db.Get(&by, `SELECT "from", "to" FROM pragma_foreign_key_list(?) WHERE id = ?`, l.Table,
				l.Key); err != nil {
				return err
			}
			res, err := s.db.Exec(fmt.Sprintf(`DELETE FROM %s WHERE "%s" IS NOT NULL AND "%s" NOT IN (SELECT "%s" FROM %s)`,
				l.Table, by.From, by.From, by.To, l.To))
			if err != nil {
				return err
			}
			if n, err := res.RowsAffected(); err != nil || n == 0 {
				return errors.Join(err, fmt.Errorf("%s points to %s that are not there", l.Table, l.To))
			}
		}
	}
}
