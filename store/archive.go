package store

import (
	"archive/zip"
	"bufio"
	"bytes"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"path"
	"path/filepath"
	"slices"
	"time"

	"github.com/jmoiron/sqlx"
)

// ArchiveFormat is what an archive says that it is; docs/format.md describes it.
const ArchiveFormat = "chamfer-archive-1"

// largestKept is the largest file that is read out of an archive, in bytes: a project of ten thousand revisions has
// some
// hundred megabytes.
const largestKept = 2 << 30

// ErrArchive says that a file is no archive that could be brought back.
var ErrArchive = errors.New("this is no archive of projects")

// archiveHead is the first file of an archive.
type archiveHead struct {
	Format     string           `json:"format"`
	Schema     int64            `json:"schema"` // version of the tables that its rows are of
	Households int              `json:"households"`
	Projects   int              `json:"projects"`
	Last       map[string]int64 `json:"last,omitempty"` // numbers that have been given out, by table
}

// keptRow is one line of the rows in an archive.
type keptRow struct {
	Table string                     `json:"table"`
	Row   map[string]json.RawMessage `json:"row"`
}

// portion is a table whose rows go into an archive, which are somebody's, and in which order.
type portion struct{ table, whose, order string }

// What goes into an archive for a household, for each of its projects, and for the file as a whole. Sign-ins and links
// stay behind, and so do cards, which are made anew; a household's own archive has nobody's account.
var (
	ofHousehold = []portion{{"households", "id = ?", "id"}, {"habits", "household_id = ?", "region"},
		{"shed", "household_id = ?", "id"}, {"stuff", "household_id = ?", "region, item"},
		{"shops", "household_id = ?", "id"},
		{"quotes", "shop_id IN (SELECT id FROM shops WHERE household_id = ?)", "id"}}
	ofProject = []portion{{"projects", "id = ?", "id"}, {"revisions", "project_id = ?", "id"},
		{"ticks", "project_id = ?", "key"}, {"claims", "project_id = ?", "leftover_id"},
		{"events", "project_id = ?", "uid"}, {"takings", "project_id = ?", "key"}, {"goods", "project_id = ?", "item"},
		{"sizes", "project_id = ?", "key"}, {"photos", "project_id = ?", "id"},
		{"pins", "project_id = ?", "revision_id"}}
	ofAll = []portion{{"found", "", "job"}, {"accounts", "", "id"}, {"passkeys", "", "id"},
		{"members", "", "household_id, account_id"}, {"project_roles", "", "project_id, account_id"}}
)

// Archive writes everything of a household, or of all where it is 0, as one zip of open formats: of each project its
// design as it stands, its photos, and every row that is kept of it. It is of one moment, whatever is changed
// meanwhile, and the same bytes for the same rows.
func (s *Store) Archive(ctx context.Context, to io.Writer, household int64) (err error) {
	tx, err := s.db.BeginTxx(ctx, &sql.TxOptions{ReadOnly: true}) // nobody who writes waits for it
	if err != nil {
		return fmt.Errorf("archive: %w", err)
	}
	defer func() { err = errors.Join(err, tx.Rollback()) }()
	a := archiver{tx: tx, to: zip.NewWriter(to), whole: household == 0}
	if err := a.all(household); err != nil {
		return fmt.Errorf("archive: %w", err)
	}
	return a.to.Close()
}

type archiver struct {
	tx    *sqlx.Tx
	to    *zip.Writer
	whole bool // of all households
}

// file begins a file; its time is always the same, so that its bytes are.
func (a *archiver) file(name string) (io.Writer, error) {
	return a.to.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Deflate,
		Modified: time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC)})
}

func (a *archiver) all(household int64) error {
	head := archiveHead{Format: ArchiveFormat, Last: map[string]int64{}}
	var houses []int64
	if err := a.tx.Select(&houses, "SELECT id FROM households WHERE ? IN (0, id) ORDER BY id", household); err != nil {
		return err
	}
	var projects []struct {
		ID    int64 `db:"id"`
		House int64 `db:"household_id"`
	}
	if err := a.tx.Select(&projects, "SELECT id, household_id FROM projects WHERE ? IN (0, household_id) ORDER BY id",
		household); err != nil {
		return err
	}
	head.Households, head.Projects = len(houses), len(projects)
	if err := a.tx.Get(&head.Schema, "SELECT max(version_id) FROM goose_db_version WHERE is_applied"); err != nil {
		return err
	}
	if household == 0 {
		err := eachRow(a.tx, func(r row) error {
			head.Last[fmt.Sprint(r["name"])] = r["seq"].(int64)
			return nil
		}, "SELECT name, seq FROM sqlite_sequence WHERE name IN ('projects', 'revisions', 'shed', 'shops', 'quotes',"+
			" 'households', 'accounts')")
		if err != nil {
			return err
		}
	}
	f, err := a.file("archive.json")
	if err != nil {
		return err
	}
	raw, err := json.MarshalIndent(head, "", "  ")
	if err != nil {
		return err
	}
	if _, err := f.Write(append(raw, '\n')); err != nil {
		return err
	}
	if household == 0 {
		if err := a.kept("kept.jsonl", ofAll, nil); err != nil {
			return err
		}
	}
	for _, h := range houses {
		if err := a.kept(fmt.Sprintf("household-%d/kept.jsonl", h), ofHousehold, h); err != nil {
			return err
		}
	}
	for _, p := range projects {
		if err := a.project(fmt.Sprintf("household-%d/project-%d/", p.House, p.ID), p.ID); err != nil {
			return fmt.Errorf("project %d: %w", p.ID, err)
		}
	}
	return nil
}

// project writes the design as it stands, where it can be read, the photos, and the rows.
func (a *archiver) project(folder string, id int64) error {
	var at struct {
		Head   int64  `db:"head"`
		Design string `db:"design"`
	}
	if err := a.tx.Get(&at, "SELECT coalesce(p.head, 0) AS head, coalesce(r.design, '') AS design FROM projects p LEFT"+
		" JOIN revisions r ON r.id = p.head WHERE p.id = ?", id); err != nil {
		return err
	}
	if d, err := read(id, at.Head, at.Design); err == nil {
		raw, err := d.Encode()
		if err != nil {
			return err
		}
		f, err := a.file(folder + "project.chamfer.json")
		if err != nil {
			return err
		}
		if _, err := f.Write(raw); err != nil {
			return err
		}
	}
	if err := eachRow(a.tx, func(r row) error {
		f, err := a.file(fmt.Sprintf("%sphoto-%d.jpg", folder, r["id"]))
		if err == nil {
			_, err = f.Write(r["body"].([]byte))
		}
		return err
	}, "SELECT id, body FROM photos WHERE project_id = ? ORDER BY id", id); err != nil {
		return err
	}
	return a.kept(folder+"kept.jsonl", ofProject, id)
}

// kept writes rows, a line for each.
func (a *archiver) kept(name string, of []portion, whose any) error {
	f, err := a.file(name)
	if err != nil {
		return err
	}
	out := bufio.NewWriter(f)
	for _, t := range of {
		query, args := "SELECT * FROM "+t.table, []any{}
		if t.whose != "" {
			query, args = query+" WHERE "+t.whose, append(args, whose)
		}
		var packs packedDesigns
		if err := eachRow(a.tx, func(r row) error {
			if t.table == "revisions" {
				if err := unpackRow(a.tx, &packs, r); err != nil {
					return err
				}
			}
			if !a.whole { // whoever it was has no account where this is brought back
				delete(r, "account_id")
			}
			line, err := r.write(func(column string, _ []byte) (string, error) {
				if t.table == "photos" && column == "body" {
					return fmt.Sprintf("photo-%d.jpg", r["id"]), nil
				}
				return "", nil
			})
			if err != nil {
				return err
			}
			raw, err := json.Marshal(map[string]any{"table": t.table, "row": line})
			if err != nil {
				return err
			}
			_, err = out.Write(append(raw, '\n'))
			return err
		}, query+" ORDER BY "+t.order, args...); err != nil {
			return fmt.Errorf("%s: %w", t.table, err)
		}
	}
	return out.Flush()
}

// isArchive reports whether a file is a zip.
func isArchive(path string) bool {
	f, err := os.Open(path)
	if err != nil {
		return false
	}
	defer f.Close()
	top := make([]byte, 4)
	_, err = io.ReadFull(f, top)
	return err == nil && string(top) == "PK\x03\x04"
}

// unpack makes a new file of projects of an archive. It comes to be whole or not at all.
func unpack(from, to string) (err error) {
	z, err := zip.OpenReader(from)
	if err != nil {
		return &Refused{from, ErrArchive, fmt.Sprintf("bring back another copy (%v)", err)}
	}
	defer z.Close()
	if err := errors.Join(remove(to), private(to)); err != nil {
		return err
	}
	defer func() {
		if err != nil {
			err = errors.Join(err, remove(to))
		}
	}()
	u := unpacker{from: from, files: map[string]*zip.File{}}
	for _, f := range z.File {
		u.files[f.Name] = f
	}
	head, err := u.head()
	if err != nil {
		return err
	}
	db, err := connect(to, "rw")
	if err != nil {
		return err
	}
	if err = unsynced(db); err == nil {
		err = u.fill(db, z.File, head)
	}
	if err := errors.Join(err, db.Close()); err != nil {
		return err
	}
	return settle(to)
}

type unpacker struct {
	from  string
	files map[string]*zip.File
	tx    *sqlx.Tx
	know  map[string][]string // columns by table
	lone  bool                // of one household
}

func (u *unpacker) refuse(format string, args ...any) error {
	return &Refused{u.from, ErrArchive, fmt.Sprintf(format, args...) + "; bring back another copy"}
}

// read reads a file of the archive whole.
func (u *unpacker) read(name string) ([]byte, error) {
	f := u.files[name]
	if f == nil {
		return nil, u.refuse("%s is not in it", name)
	}
	if f.UncompressedSize64 > largestKept {
		return nil, u.refuse("%s is too large", name)
	}
	r, err := f.Open()
	if err != nil {
		return nil, u.refuse("%s cannot be read: %v", name, err)
	}
	defer r.Close()
	raw, err := io.ReadAll(io.LimitReader(r, largestKept))
	if err != nil {
		return nil, u.refuse("%s cannot be read: %v", name, err)
	}
	return raw, nil
}

func (u *unpacker) head() (h archiveHead, err error) {
	raw, err := u.read("archive.json")
	if err != nil {
		return h, err
	}
	if err := json.Unmarshal(raw, &h); err != nil || h.Format != ArchiveFormat {
		return h, u.refuse("archive.json does not say %q", ArchiveFormat)
	}
	known, err := newest()
	if err != nil {
		return h, err
	}
	if h.Schema > known {
		return h, &Refused{u.from, ErrNewer, fmt.Sprintf("it has version %d, and this program knows %d: use the newer"+
			" program", h.Schema, known)}
	}
	if h.Schema < 7 { // there were no archives yet
		return h, u.refuse("it has version %d", h.Schema)
	}
	return h, nil
}

// fill makes the tables as they were, puts the rows in, and brings the file up to date.
func (u *unpacker) fill(db *sqlx.DB, files []*zip.File, head archiveHead) error {
	if err := migrate(db, head.Schema); err != nil {
		return err
	}
	tx, err := db.Beginx()
	if err != nil {
		return err
	}
	u.tx = tx
	if err := u.rows(files, head); err != nil {
		return errors.Join(err, tx.Rollback())
	}
	if err := tx.Commit(); err != nil {
		return u.refuse("its rows do not go together: %v", err)
	}
	return migrate(db, 0)
}

func (u *unpacker) rows(files []*zip.File, head archiveHead) error {
	if _, err := u.tx.Exec("PRAGMA defer_foreign_keys = 1"); err != nil {
		return err
	}
	u.know, u.lone = map[string][]string{}, head.Households == 1
	for _, t := range slices.Concat(ofAll, ofHousehold, ofProject) {
		columns, _, err := columnsOf(u.tx, t.table)
		if err != nil {
			return err
		}
		u.know[t.table] = columns
	}
	if _, err := u.tx.Exec("DELETE FROM households"); err != nil { // the one that every new file has
		return err
	}
	for _, f := range files {
		if path.Base(f.Name) == "kept.jsonl" {
			if err := u.kept(f.Name); err != nil {
				return err
			}
		}
	}
	for table, n := range head.Last {
		if _, err := u.tx.Exec("UPDATE sqlite_sequence SET seq = max(seq, ?) WHERE name = ?", n, table); err != nil {
			return err
		}
	}
	var projects int
	if err := u.tx.Get(&projects, "SELECT count(*) FROM projects"); err != nil {
		return err
	}
	if projects != head.Projects {
		return u.refuse("it says that it has %d projects, and has %d", head.Projects, projects)
	}
	return nil
}

// kept puts the rows of one file into their tables.
func (u *unpacker) kept(name string) error {
	raw, err := u.read(name)
	if err != nil {
		return err
	}
	line := 0
	for text := range bytes.Lines(raw) {
		line++
		var k keptRow
		if err := json.Unmarshal(text, &k); err != nil {
			return u.refuse("line %d of %s cannot be read: %v", line, name, err)
		}
		columns := u.know[k.Table]
		if columns == nil {
			return u.refuse("line %d of %s is of a table %q, which there is not", line, name, k.Table)
		}
		r, err := readRow(k.Row, func(file string) ([]byte, error) { return u.read(path.Join(path.Dir(name), file)) })
		if err != nil {
			return u.refuse("line %d of %s: %v", line, name, err)
		}
		for c := range r {
			if !slices.Contains(columns, c) {
				return u.refuse("line %d of %s: %s has no column %q", line, name, k.Table, c)
			}
			if u.lone && (c == "household_id" || c == "id" && k.Table == "households") {
				r[c] = Home // the one that this machine opens while nobody has an account
			}
		}
		if err := put(u.tx, k.Table, "", r); err != nil {
			return u.refuse("line %d of %s: %v", line, name, err)
		}
	}
	return nil
}

// ArchiveFile writes everything of a file of projects, in use or not, as an archive to a new file, and looks through
// what it would bring back.
func ArchiveFile(from, to string) (c Checked, err error) {
	at, err := inspect(from)
	if err != nil {
		return c, err
	}
	if known, bad := newest(); bad != nil || at != known {
		return c, errors.Join(bad, fmt.Errorf("%s is of an older version: start Chamfer with it once, which brings it up to"+
			" date", from))
	}
	db, err := connect(from, "rw")
	if err != nil {
		return c, err
	}
	s := &Store{db: db, now: time.Now}
	f, err := os.OpenFile(to, os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o600)
	if err == nil {
		err = errors.Join(s.Archive(context.Background(), f, 0), f.Sync(), f.Close())
	}
	if err := errors.Join(err, db.Close()); err != nil {
		if !errors.Is(err, os.ErrExist) {
			err = errors.Join(err, os.Remove(to))
		}
		return c, err
	}
	return CheckArchive(to)
}

// CheckArchive brings an archive back to a file that is thrown away, and looks through that.
func CheckArchive(name string) (c Checked, err error) {
	dir, err := os.MkdirTemp(filepath.Dir(name), ".chamfer-archive-*")
	if err != nil {
		return c, err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(dir)) }()
	part := filepath.Join(dir, "looked-at.db")
	if err := unpack(name, part); err != nil {
		return c, err
	}
	return Check(part)
}
