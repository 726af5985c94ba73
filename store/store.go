// Package store keeps projects in a SQLite file. Every edit of a design is a
// revision with a parent; a project's head says which one holds. Undo, redo,
// history and recovery are all moves of the head. A call that returns without
// an error has been committed to disk.
package store

import (
	"context"
	"database/sql"
	"embed"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	_ "modernc.org/sqlite" // the driver, in pure Go

	"chamfer/core/catalog"
	"chamfer/core/design"
)

//go:embed migrations
var migrations embed.FS

// Errors a caller decides on.
var (
	ErrNotFound = errors.New("there is no such project")
	ErrNothing  = errors.New("there is nothing to go back to")
)

// Conflict says that a project was changed since the revision an edit was based
// on. Nothing has been saved.
type Conflict struct{ Base, Head int64 }

func (c *Conflict) Error() string {
	return fmt.Sprintf("the project has moved on from revision %d to %d", c.Base, c.Head)
}

// Store is an open file of projects. It is safe for concurrent use.
type Store struct {
	db  *sqlx.DB
	now func() time.Time
}

// Project is a project at its head.
type Project struct {
	ID       int64  `db:"id"`
	Head     int64  `db:"head"`
	Raw      string `db:"design"`
	Updated  string `db:"updated_at"`
	Parent   *int64 `db:"parent_id"`
	Redo     *int64 `db:"redo"` // revision that redo would go to
	Design   design.Design
	Deleted  *string `db:"deleted_at"`
	Revision string  `db:"label"` // what the head's edit was
}

// Revision is one entry of a project's history.
type Revision struct {
	ID      int64  `db:"id"`
	Parent  *int64 `db:"parent_id"`
	Label   string `db:"label"`
	Created string `db:"created_at"`
	Raw     string `db:"design"`
}

// Open opens or creates the file at path, brings it up to date and holds it in
// write-ahead mode with foreign keys on.
func Open(path string) (*Store, error) {
	dsn := "file:" + path + "?_pragma=journal_mode(WAL)&_pragma=foreign_keys(1)&_pragma=busy_timeout(5000)&_pragma=synchronous(FULL)&_txlock=immediate"
	db, err := sqlx.Open("sqlite", dsn)
	if err != nil {
		return nil, fmt.Errorf("open %s: %w", path, err)
	}
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	up, err := goose.NewProvider(goose.DialectSQLite3, db.DB, sub)
	if err != nil {
		return nil, errors.Join(fmt.Errorf("migrations: %w", err), db.Close())
	}
	if _, err := up.Up(context.Background()); err != nil {
		return nil, errors.Join(fmt.Errorf("bring %s up to date: %w", path, err), db.Close())
	}
	return &Store{db: db, now: time.Now}, nil
}

// Close closes the file.
func (s *Store) Close() error { return s.db.Close() }

func (s *Store) stamp() string { return s.now().UTC().Format(time.RFC3339) }

// inTx runs do in a transaction that takes the write lock at its start.
func (s *Store) inTx(do func(*sqlx.Tx) error) error {
	tx, err := s.db.Beginx()
	if err != nil {
		return fmt.Errorf("begin: %w", err)
	}
	if err := do(tx); err != nil {
		return errors.Join(err, tx.Rollback())
	}
	return tx.Commit()
}

const selectProject = `
SELECT p.id, p.head, p.updated_at, p.deleted_at, r.design, r.parent_id, r.label,
       (SELECT max(c.id) FROM revisions c WHERE c.parent_id = p.head) AS redo
FROM projects p JOIN revisions r ON r.id = p.head `

func (p *Project) read() error {
	if err := json.Unmarshal([]byte(p.Raw), &p.Design); err != nil {
		return fmt.Errorf("project %d, revision %d: %w", p.ID, p.Head, err)
	}
	p.Design.Complete()
	return nil
}

// Projects lists what has not been deleted, the last touched first.
func (s *Store) Projects() ([]Project, error) {
	var list []Project
	if err := s.db.Select(&list, selectProject+"WHERE p.deleted_at IS NULL ORDER BY p.updated_at DESC, p.id DESC"); err != nil {
		return nil, fmt.Errorf("list projects: %w", err)
	}
	for i := range list {
		if err := list[i].read(); err != nil {
			return nil, err
		}
	}
	return list, nil
}

// Project returns one project, deleted or not.
func (s *Store) Project(id int64) (Project, error) {
	var p Project
	err := s.db.Get(&p, selectProject+"WHERE p.id = ?", id)
	if errors.Is(err, sql.ErrNoRows) {
		return p, ErrNotFound
	}
	if err != nil {
		return p, fmt.Errorf("project %d: %w", id, err)
	}
	return p, p.read()
}

// Create adds a project with its first revision.
func (s *Store) Create(d design.Design, label string) (int64, error) {
	raw, err := json.Marshal(d)
	if err != nil {
		return 0, fmt.Errorf("create: %w", err)
	}
	var id int64
	err = s.inTx(func(tx *sqlx.Tx) error {
		at := s.stamp()
		res, err := tx.Exec("INSERT INTO projects (created_at, updated_at) VALUES (?, ?)", at, at)
		if err != nil {
			return fmt.Errorf("create: %w", err)
		}
		if id, err = res.LastInsertId(); err != nil {
			return err
		}
		return s.append(tx, id, nil, raw, label)
	})
	return id, err
}

// append adds a revision and moves the head to it.
func (s *Store) append(tx *sqlx.Tx, project int64, parent *int64, raw []byte, label string) error {
	at := s.stamp()
	res, err := tx.Exec("INSERT INTO revisions (project_id, parent_id, label, design, created_at) VALUES (?, ?, ?, ?, ?)", project, parent, label, string(raw), at)
	if err != nil {
		return fmt.Errorf("revision: %w", err)
	}
	id, err := res.LastInsertId()
	if err != nil {
		return err
	}
	return s.move(tx, project, id)
}

func (s *Store) move(tx *sqlx.Tx, project, head int64) error {
	_, err := tx.Exec("UPDATE projects SET head = ?, updated_at = ? WHERE id = ?", head, s.stamp(), project)
	if err != nil {
		return fmt.Errorf("move head: %w", err)
	}
	return nil
}

// head returns a project's head and parent inside a transaction.
func head(tx *sqlx.Tx, project int64) (at int64, parent *int64, err error) {
	row := struct {
		Head   int64  `db:"head"`
		Parent *int64 `db:"parent_id"`
	}{}
	err = tx.Get(&row, "SELECT p.head, r.parent_id FROM projects p JOIN revisions r ON r.id = p.head WHERE p.id = ?", project)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return row.Head, row.Parent, err
}

// Save adds a revision on top of base. It fails with [*Conflict] where the
// project has moved on since.
func (s *Store) Save(project, base int64, d design.Design, label string) error {
	raw, err := json.Marshal(d)
	if err != nil {
		return fmt.Errorf("save: %w", err)
	}
	return s.inTx(func(tx *sqlx.Tx) error {
		at, _, err := head(tx, project)
		if err != nil {
			return err
		}
		if at != base {
			return &Conflict{base, at}
		}
		return s.append(tx, project, &at, raw, label)
	})
}

// Undo moves the head to its parent.
func (s *Store) Undo(project int64) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		_, parent, err := head(tx, project)
		if err != nil {
			return err
		}
		if parent == nil {
			return ErrNothing
		}
		return s.move(tx, project, *parent)
	})
}

// Redo moves the head to its newest child.
func (s *Store) Redo(project int64) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		at, _, err := head(tx, project)
		if err != nil {
			return err
		}
		var child *int64
		if err := tx.Get(&child, "SELECT max(id) FROM revisions WHERE parent_id = ?", at); err != nil {
			return fmt.Errorf("redo: %w", err)
		}
		if child == nil {
			return ErrNothing
		}
		return s.move(tx, project, *child)
	})
}

// GoTo moves the head to any revision of the project.
func (s *Store) GoTo(project, revision int64) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		var found int
		if err := tx.Get(&found, "SELECT count(*) FROM revisions WHERE id = ? AND project_id = ?", revision, project); err != nil {
			return fmt.Errorf("go to: %w", err)
		}
		if found == 0 {
			return ErrNotFound
		}
		return s.move(tx, project, revision)
	})
}

// Revision returns the design of one revision of a project.
func (s *Store) Revision(project, id int64) (design.Design, error) {
	var raw string
	err := s.db.Get(&raw, "SELECT design FROM revisions WHERE id = ? AND project_id = ?", id, project)
	if errors.Is(err, sql.ErrNoRows) {
		return design.Design{}, ErrNotFound
	}
	if err != nil {
		return design.Design{}, fmt.Errorf("revision %d: %w", id, err)
	}
	var d design.Design
	if err := json.Unmarshal([]byte(raw), &d); err != nil {
		return d, fmt.Errorf("revision %d: %w", id, err)
	}
	d.Complete()
	return d, nil
}

// History lists a project's newest revisions, at most limit, newest first.
func (s *Store) History(project int64, limit int) ([]Revision, error) {
	var list []Revision
	err := s.db.Select(&list, "SELECT id, parent_id, label, created_at, design FROM revisions WHERE project_id = ? ORDER BY id DESC LIMIT ?", project, limit)
	if err != nil {
		return nil, fmt.Errorf("history: %w", err)
	}
	return list, nil
}

// Delete hides a project; Restore brings it back.
func (s *Store) Delete(project int64) error {
	return s.mark(project, sql.NullString{String: s.stamp(), Valid: true})
}

// Restore brings a deleted project back.
func (s *Store) Restore(project int64) error { return s.mark(project, sql.NullString{}) }

func (s *Store) mark(project int64, at sql.NullString) error {
	res, err := s.db.Exec("UPDATE projects SET deleted_at = ? WHERE id = ?", at, project)
	if err != nil {
		return fmt.Errorf("project %d: %w", project, err)
	}
	if n, err := res.RowsAffected(); err != nil || n == 0 {
		return errors.Join(err, ErrNotFound)
	}
	return nil
}

// Tick sets or clears one thing done.
func (s *Store) Tick(project int64, key string, done bool) error {
	query := "DELETE FROM ticks WHERE project_id = ? AND key = ?"
	if done {
		query = "INSERT INTO ticks (project_id, key) VALUES (?, ?) ON CONFLICT DO NOTHING"
	}
	if _, err := s.db.Exec(query, project, key); err != nil {
		return fmt.Errorf("tick: %w", err)
	}
	return nil
}

// Ticks returns what is done.
func (s *Store) Ticks(project int64) (map[string]bool, error) {
	var keys []string
	if err := s.db.Select(&keys, "SELECT key FROM ticks WHERE project_id = ?", project); err != nil {
		return nil, fmt.Errorf("ticks: %w", err)
	}
	done := map[string]bool{}
	for _, k := range keys {
		done[k] = true
	}
	return done, nil
}

// Habits returns the workshop's habits for a region, or the region's own.
func (s *Store) Habits(c *catalog.Catalog) (catalog.Habits, error) {
	var raw string
	err := s.db.Get(&raw, "SELECT body FROM habits WHERE region = ?", c.ID)
	if errors.Is(err, sql.ErrNoRows) {
		return c.Habits, nil
	}
	h := c.Habits
	if err == nil {
		err = json.Unmarshal([]byte(raw), &h)
	}
	if err != nil {
		return c.Habits, fmt.Errorf("habits of %s: %w", c.ID, err)
	}
	return h, nil
}

// SetHabits keeps the workshop's habits for a region.
func (s *Store) SetHabits(region string, h catalog.Habits) error {
	raw, err := json.Marshal(h)
	if err == nil {
		_, err = s.db.Exec("INSERT INTO habits (region, body) VALUES (?, ?) ON CONFLICT (region) DO UPDATE SET body = excluded.body", region, string(raw))
	}
	if err != nil {
		return fmt.Errorf("habits of %s: %w", region, err)
	}
	return nil
}
