// Package store keeps projects in a SQLite file. Every edit of a design is a
// revision with a parent; a project's head says which one holds. Undo, redo,
// history and recovery are all moves of the head. A call that returns without
// an error has been committed to disk. Reads take a context and end with it; what is
// written is carried through.
//
// Nothing is kept that cannot be read back, and one row that cannot be read, by
// whatever has happened to it, hides no other: it comes as [Damaged].
package store

import (
	"bytes"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"sync"
	"time"

	"github.com/jmoiron/sqlx"

	"chamfer/core/design"
)

// Errors a caller decides on.
var (
	ErrNotFound   = errors.New("there is no such project")
	ErrNoRevision = errors.New("there is no such revision of the project")
	ErrNothing    = errors.New("there is nothing to go back to")
	ErrDeleted    = errors.New("the project has been deleted")
)

// Conflict says that a project was changed since the revision an edit was based
// on. Nothing has been saved.
type Conflict struct{ Base, Head int64 }

func (c *Conflict) Error() string {
	return fmt.Sprintf("the project has moved on from revision %d to %d", c.Base, c.Head)
}

// Damaged says that a revision of a project cannot be read. Its text is as it is kept.
type Damaged struct {
	Project, Revision int64
	Text              string
	Reason            error
}

func (d *Damaged) Error() string {
	return fmt.Sprintf("revision %d of project %d cannot be read: %v", d.Revision, d.Project, d.Reason)
}
func (d *Damaged) Unwrap() error { return d.Reason }

// Store is an open file of projects. It is safe for concurrent use.
type Store struct {
	db   *sqlx.DB
	now  func() time.Time
	hold hold
	idle idle
	path string

	copying sync.Mutex
	writing chan struct{} // one after another, in the order they come: SQLite itself would have each try again and again

	watch watch

	packed packedDesigns
	view   *shared // of a log, nil where the file is this store's alone
	apart  bool    // the file is a view of a log, and this store is not
}

// Standing is where a project stands, without its design.
type Standing struct {
	ID       int64   `db:"id"`
	Head     int64   `db:"head"`
	Name     string  `db:"name"` // as it was last saved
	Raw      string  `db:"design"`
	Updated  string  `db:"updated_at"`
	Parent   *int64  `db:"parent_id"`
	Redo     *int64  `db:"redo"` // revision that redo would go to
	Deleted  *string `db:"deleted_at"`
	Revision string  `db:"label"` // what the head's edit was

	Household int64  `db:"household_id"`
	By        *int64 `db:"account_id"` // whose edit that was, where it was anybody's
}

// Project is a project at its head.
type Project struct {
	Standing
	Design design.Design
}

// Revision is one entry of a project's history.
type Revision struct {
	ID      int64  `db:"id"`
	Parent  *int64 `db:"parent_id"`
	Label   string `db:"label"`
	Created string `db:"created_at"`
	By      *int64 `db:"account_id"`
	Name    string `db:"name"` // of whoever it was, "" where nobody is known
	Undoes  *int64 `db:"undoes"`
	Raw     string `db:"edits"`
}

// Edits are what it changed, nil where that is not known.
func (r Revision) Edits() []design.Edit {
	var list []design.Edit
	if r.Raw == "" || json.Unmarshal([]byte(r.Raw), &list) != nil {
		return nil
	}
	return list
}

// Kept is what goes with a saved revision: what the list of projects shows of it, the boards of the shed it counts
// on, by number, and whose edits it came of.
type Kept struct {
	Card   []byte
	Claims map[int64]int
	Edit
}

// Edit is what a revision changed, and who did.
type Edit struct {
	By     int64 // account, 0 for nobody
	Edits  []design.Edit
	Undoes int64 // revision that is taken back, 0 for none
}

// Ready reports whether the file can be read.
func (s *Store) Ready() error {
	var n int
	return s.db.Get(&n, "SELECT 1 FROM about UNION ALL SELECT 1 LIMIT 1")
}

func (s *Store) stamp() string { return s.now().UTC().Format(time.RFC3339) }

// longestHeld is how long a change waits for those before it; [source] lets it wait as long for other programs.
const longestHeld = 5 * time.Second

var errHeld = errors.New("others have been writing for too long")

// inTx runs do in a transaction that takes the write lock at its start. Where the disk is
// full, the journal is put into the file, which may make room, and it is done once more.
func (s *Store) inTx(do func(*sqlx.Tx) error) error {
	late := time.NewTimer(longestHeld)
	defer late.Stop()
	select {
	case s.writing <- struct{}{}:
		defer func() { <-s.writing }()
	case <-late.C:
		return errHeld
	}
	if s.view != nil {
		return s.view.change(do)
	}
	if s.apart {
		return s.Apart()
	}
	err := s.try(do)
	if Why(err) == Full {
		s.checkpoint()
		err = s.try(do)
	}
	return err
}

// do is a change of one statement.
func (s *Store) do(query string, args ...any) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		_, err := tx.Exec(query, args...)
		return err
	})
}

func (s *Store) try(do func(*sqlx.Tx) error) (err error) {
	tx, err := s.db.Beginx()
	if err != nil {
		return fmt.Errorf("begin: %w", err)
	}
	done := false
	defer func() {
		if !done { // do has panicked
			err = errors.Join(err, tx.Rollback())
		}
	}()
	err = do(tx)
	done = true
	if err != nil {
		return errors.Join(err, tx.Rollback())
	}
	if err := tx.Commit(); err != nil {
		return fmt.Errorf("commit: %w", err)
	}
	s.idle.written()
	return nil
}

const selectHead = `
SELECT p.id, coalesce(p.head, 0) AS head, p.name, p.updated_at, p.deleted_at, coalesce(r.design, '') AS design,
	p.household_id, r.account_id, r.parent_id,
       coalesce(r.label, 'what is lost') AS label,
         (SELECT max(c.id) FROM revisions c WHERE c.parent_id = p.head) AS redo
FROM projects p LEFT JOIN revisions r ON r.id = p.head `

// Read reads the design of a head.
func (h Standing) Read() (Project, error) {
	d, err := read(h.ID, h.Head, h.Raw)
	return Project{h, d}, err
}

func read(project, revision int64, raw string) (design.Design, error) {
	var d design.Design
	if err := json.Unmarshal([]byte(raw), &d); err != nil {
		return d, &Damaged{project, revision, raw, err}
	}
	d.Complete()
	if len(d.Beds) == 0 {
		return d, &Damaged{project, revision, raw, errors.New("it has no beds")}
	}
	return d, nil
}

// Standing returns where a project stands, deleted or not, whether its design can be read or
// not.
func (s *Store) Standing(ctx context.Context, id int64) (Standing, error) {
	var h Standing
	err := s.db.GetContext(ctx, &h, selectHead+"WHERE p.id = ?", id)
	if errors.Is(err, sql.ErrNoRows) {
		return h, ErrNotFound
	}
	if err != nil {
		return h, fmt.Errorf("project %d: %w", id, err)
	}
	return h, nil
}

// Project returns one project, deleted or not; [*Damaged] where its design cannot be
// read.
func (s *Store) Project(ctx context.Context, id int64) (Project, error) {
	h, err := s.Standing(ctx, id)
	if err != nil {
		return Project{}, err
	}
	return h.Read()
}

// encode writes a design as it is kept, once it has been seen to read back.
func encode(d design.Design) ([]byte, error) {
	raw, err := json.Marshal(d)
	if err != nil {
		return nil, err
	}
	back, err := read(0, 0, string(raw))
	if err != nil {
		return nil, err
	}
	again, err := json.Marshal(back)
	if err != nil {
		return nil, err
	}
	if !bytes.Equal(raw, again) {
		return nil, errors.New("it would be read back as another design")
	}
	return raw, nil
}

// Create adds a project to a household, with its first revision.
func (s *Store) Create(household int64, d design.Design, label string, kept Kept) (int64, error) {
	raw, err := encode(d)
	if err != nil {
		return 0, fmt.Errorf("create: %w", err)
	}
	var id int64
	err = s.inTx(func(tx *sqlx.Tx) error {
		at := s.stamp()
		res, err := tx.Exec("INSERT INTO projects (id, household_id, created_at, updated_at) VALUES (?, ?, ?, ?)",
			s.number(tx, "projects"), household, at, at)
		if err != nil {
			return fmt.Errorf("create: %w", err)
		}
		if id, err = res.LastInsertId(); err != nil {
			return fmt.Errorf("create: %w", err)
		}
		return s.append(tx, id, nil, raw, d.Name, label, kept)
	})
	return id, err
}

// append adds a revision, moves the head to it and keeps what goes with it.
func (s *Store) append(tx *sqlx.Tx, project int64, parent *int64, raw []byte, name, label string, kept Kept) error {
	edits := ""
	if len(kept.Edits) > 0 {
		raw, err := json.Marshal(kept.Edits)
		if err != nil {
			return fmt.Errorf("revision: %w", err)
		}
		edits = string(raw)
	}
	res, err := tx.Exec(
		"INSERT INTO revisions (id, project_id, parent_id, label, design, created_at, account_id, edits, undoes) VALUES"+
			" (?, ?, ?, ?, ?, ?, nullif(?, 0), ?, nullif(?, 0))",
		s.number(tx, "revisions"),
		project,
		parent,
		label,
		string(raw),
		s.stamp(),
		kept.By,
		edits,
		kept.Undoes,
	)
	if err != nil {
		return fmt.Errorf("revision: %w", err)
	}
	id, err := res.LastInsertId()
	if err != nil {
		return fmt.Errorf("revision: %w", err)
	}
	if err := s.move(tx, project, id); err != nil {
		return err
	}
	return s.keep(tx, project, id, name, kept)
}

func (s *Store) move(tx *sqlx.Tx, project, head int64) error {
	if err := unpackRevision(tx, head); err != nil {
		return err
	}
	_, err := tx.Exec("UPDATE projects SET head = ?, updated_at = ? WHERE id = ?", head, s.stamp(), project)
	if err != nil {
		return fmt.Errorf("move head: %w", err)
	}
	return nil
}

// head returns a project's head and parent inside a transaction. It refuses deleted
// projects, and heads other than base.
func head(tx *sqlx.Tx, project, base int64) (at int64, parent *int64, err error) {
	row := struct {
		Head    int64   `db:"head"`
		Parent  *int64  `db:"parent_id"`
		Deleted *string `db:"deleted_at"`
	}{}
	err = tx.Get(
		&row,
		"SELECT coalesce(p.head, 0) AS head, p.deleted_at, r.parent_id FROM projects p LEFT JOIN revisions r ON r.id"+
			" = p.head WHERE p.id = ?",
		project,
	)
	switch {
	case errors.Is(err, sql.ErrNoRows):
		return 0, nil, ErrNotFound
	case err != nil:
		return 0, nil, fmt.Errorf("project %d: %w", project, err)
	case row.Deleted != nil:
		return 0, nil, ErrDeleted
	case base != row.Head:
		return 0, nil, &Conflict{base, row.Head}
	}
	return row.Head, row.Parent, nil
}

// Save adds a revision on top of base. It fails with [*Conflict] where the
// project has moved on since.
func (s *Store) Save(project, base int64, d design.Design, label string, kept Kept) error {
	raw, err := encode(d)
	if err != nil {
		return fmt.Errorf("save: %w", err)
	}
	return s.inTx(func(tx *sqlx.Tx) error {
		at, _, err := head(tx, project, base)
		if err != nil {
			return err
		}
		return s.append(tx, project, &at, raw, d.Name, label, kept)
	})
}

// Undo moves the head from base to its parent.
func (s *Store) Undo(project, base int64) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		_, parent, err := head(tx, project, base)
		if err != nil {
			return err
		}
		if parent == nil {
			return ErrNothing
		}
		return s.move(tx, project, *parent)
	})
}

// RedoTo is the revision that redo would go to, and false where there is none.
func (s *Store) RedoTo(ctx context.Context, project int64) (Revision, bool, error) {
	var list []Revision
	err := s.db.SelectContext(ctx, &list, selectRevision+`JOIN projects p ON p.id = r.project_id
		WHERE p.id = ? AND r.parent_id = p.head ORDER BY r.id DESC LIMIT 1`, project)
	if err != nil || len(list) == 0 {
		return Revision{}, false, err
	}
	return list[0], true, nil
}

// Redo moves the head from base to its newest child.
func (s *Store) Redo(project, base int64) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		at, _, err := head(tx, project, base)
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

// GoTo moves the head from base to any revision of the project.
func (s *Store) GoTo(project, base, revision int64) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		if _, _, err := head(tx, project, base); err != nil {
			return err
		}
		var found int
		if err := tx.Get(&found, "SELECT count(*) FROM revisions WHERE id = ? AND project_id = ?", revision,
			project); err != nil {
			return fmt.Errorf("go to: %w", err)
		}
		if found == 0 {
			return ErrNoRevision
		}
		return s.move(tx, project, revision)
	})
}

// Revision returns the design of one revision of a project.
func (s *Store) Revision(ctx context.Context, project, id int64) (design.Design, error) {
	raw, err := s.designOf(ctx, project, id)
	if errors.Is(err, sql.ErrNoRows) {
		return design.Design{}, ErrNoRevision
	}
	if err != nil {
		return design.Design{}, fmt.Errorf("revision %d: %w", id, err)
	}
	return read(project, id, raw)
}

const selectRevision = `SELECT r.id, r.parent_id, r.label, r.created_at, r.account_id, r.undoes, r.edits,
	coalesce(a.name, '') AS name FROM revisions r LEFT JOIN accounts a ON a.id = r.account_id `

// Chain lists the revisions from a project's head back through their parents, at most limit, the head first.
func (s *Store) Chain(ctx context.Context, project int64, limit int) ([]Revision, error) {
	var list []Revision
	err := s.db.SelectContext(ctx, &list, `WITH RECURSIVE back (id, n) AS (
			SELECT head, 0 FROM projects WHERE id = ? AND head IS NOT NULL
			UNION ALL SELECT r.parent_id, n + 1 FROM back JOIN revisions r ON r.id = back.id
			WHERE r.parent_id IS NOT NULL AND n + 1 < ?) `+selectRevision+`JOIN back ON back.id = r.id ORDER BY n`,
		project, limit)
	if err != nil {
		return nil, fmt.Errorf("chain: %w", err)
	}
	return list, nil
}

// History lists a project's newest revisions, at most limit, newest first.
func (s *Store) History(ctx context.Context, project int64, limit int) ([]Revision, error) {
	var list []Revision
	err := s.db.SelectContext(ctx, &list, selectRevision+"WHERE r.project_id = ? ORDER BY r.id DESC LIMIT ?", project,
		limit)
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
	return s.inTx(func(tx *sqlx.Tx) error {
		res, err := tx.Exec("UPDATE projects SET deleted_at = ? WHERE id = ?", at, project)
		if err != nil {
			return fmt.Errorf("project %d: %w", project, err)
		}
		n, err := res.RowsAffected()
		if err != nil {
			return fmt.Errorf("project %d: %w", project, err)
		}
		if n == 0 {
			return ErrNotFound
		}
		return nil
	})
}
