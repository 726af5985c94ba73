package store

import (
	"context"
	"fmt"
	"strings"

	"github.com/jmoiron/sqlx"
)

// Listed is a project in the list: where it stands, and what was kept to show of it,
// nil where that is of another revision.
type Listed struct {
	Standing
	Card []byte `db:"card"`
}

// After is where a page of the list goes on: behind a project, by when it was touched, or by its name.
// The zero value is the beginning.
type After struct {
	At string
	ID int64
}

// Scope is whose projects are listed: a household's, and where an account is named, only those that name it.
type Scope struct{ Household, Named int64 }

// List returns projects, the last touched first, at most limit of them from after on;
// those whose name holds find, where that is not empty.
func (s *Store) List(ctx context.Context, of Scope, after After, find string, limit int) ([]Listed, error) {
	return s.list(ctx, of, "p.deleted_at IS NULL", "p.updated_at", falling, after, find, limit)
}

// ListByName is List in the order of names; it goes on after a name and a project.
func (s *Store) ListByName(ctx context.Context, of Scope, after After, find string, limit int) ([]Listed, error) {
	return s.list(ctx, of, "p.deleted_at IS NULL", "p.name COLLATE NOCASE", rising, after, find, limit)
}

// DeletedProjects returns deleted projects, the last deleted first.
func (s *Store) DeletedProjects(ctx context.Context, of Scope, after After, limit int) ([]Listed, error) {
	return s.list(ctx, of, "p.deleted_at IS NOT NULL", "p.deleted_at", falling, after, "", limit)
}

// direction is which way a list goes.
type direction struct{ order, past string }

var falling, rising = direction{"DESC", "<"}, direction{"ASC", ">"}

func (s *Store) list(ctx context.Context, of Scope, which, by string, way direction, after After, find string,
	limit int) ([]Listed, error) {
	query := strings.Replace(selectHead, "SELECT p.id", "SELECT c.body AS card, p.id", 1) +
		"LEFT JOIN cards c ON c.project_id = p.id AND c.revision_id = p.head WHERE p.household_id = ? AND " + which
	args := []any{of.Household}
	if of.Named != 0 {
		query += " AND EXISTS (SELECT 1 FROM project_roles n WHERE n.project_id = p.id AND n.account_id = ?)"
		args = append(args, of.Named)
	}
	if after != (After{}) {
		query += " AND (" + by + ", p.id) " + way.past + " (?, ?)"
		args = append(args, after.At, after.ID)
	}
	if find != "" {
		query += ` AND p.name LIKE ? ESCAPE '\'`
		args = append(args, "%"+strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(find)+"%")
	}
	query += " ORDER BY " + by + " " + way.order + ", p.id " + way.order + " LIMIT ?"
	var list []Listed
	if err := s.db.SelectContext(ctx, &list, query, append(args, limit)...); err != nil {
		return nil, fmt.Errorf("list projects: %w", err)
	}
	return list, nil
}

// Keep keeps what goes with a revision, where that is a project's head still; so that
// the list and other projects know of it after an undo, or a change of the shed.
func (s *Store) Keep(project, revision int64, name string, kept Kept) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		var head int64
		if err := tx.Get(&head, "SELECT head FROM projects WHERE id = ?", project); err != nil {
			return fmt.Errorf("keep: %w", err)
		}
		if head != revision {
			return nil
		}
		return s.keep(tx, project, revision, name, kept)
	})
}

func (s *Store) keep(tx *sqlx.Tx, project, revision int64, name string, kept Kept) error {
	if _, err := tx.Exec("UPDATE projects SET name = ? WHERE id = ?", name, project); err != nil {
		return fmt.Errorf("keep: %w", err)
	}
	if kept.Card != nil {
		if _, err := tx.Exec(`INSERT INTO cards (project_id, revision_id, body) VALUES (?, ?, ?)
			ON CONFLICT (project_id) DO UPDATE SET revision_id = excluded.revision_id, body = excluded.body`, project,
			revision, kept.Card); err != nil {
			return fmt.Errorf("keep the card: %w", err)
		}
	}
	return claim(tx, project, kept.Claims)
}

// claim reserves boards of the shed to a project, in place of what it had: as many as
// there are and no other has claimed.
func claim(tx *sqlx.Tx, project int64, boards map[int64]int) error {
	if _, err := tx.Exec("DELETE FROM claims WHERE project_id = ?", project); err != nil {
		return fmt.Errorf("claim boards: %w", err)
	}
	for id, n := range boards {
		if _, err := tx.Exec(`INSERT INTO claims (project_id, leftover_id, boards)
			SELECT ?, s.id, min(?, s.quantity - (`+claimed+`)) FROM shed s
			WHERE s.id = ? AND s.quantity > (`+claimed+`) AND ? > 0`, project, n, project, id, project, n); err != nil {
			return fmt.Errorf("claim boards: %w", err)
		}
	}
	return nil
}

// claimed is how many boards of a row of the shed, s, projects other than one that are
// not deleted have claimed.
const claimed = `SELECT coalesce(sum(c.boards), 0) FROM claims c JOIN projects p ON p.id = c.project_id
	WHERE c.leftover_id = s.id AND c.project_id <> ? AND p.deleted_at IS NULL`

// Claims returns the boards of the shed that a project has claimed, by number.
func (s *Store) Claims(ctx context.Context, project int64) (map[int64]int, error) {
	var rows []struct {
		Leftover int64 `db:"leftover_id"`
		Boards   int   `db:"boards"`
	}
	err := s.db.SelectContext(ctx, &rows, "SELECT leftover_id, boards FROM claims WHERE project_id = ?", project)
	if err != nil {
		return nil, fmt.Errorf("claims: %w", err)
	}
	list := map[int64]int{}
	for _, r := range rows {
		list[r.Leftover] = r.Boards
	}
	return list, nil
}

// Claim is what one project has claimed of a row of the shed.
type Claim struct {
	Leftover int64  `db:"leftover_id"`
	Project  int64  `db:"project_id"`
	Name     string `db:"name"`
	Boards   int    `db:"boards"`
}

// OthersClaims lists what projects other than one have claimed, by board and project.
func (s *Store) OthersClaims(ctx context.Context, project int64) ([]Claim, error) {
	var list []Claim
	err := s.db.SelectContext(ctx,
		&list,
		`SELECT c.leftover_id, c.project_id, p.name, c.boards FROM claims c JOIN projects p ON p.id = c.project_id
		WHERE c.project_id <> ? AND p.deleted_at IS NULL ORDER BY c.leftover_id, c.project_id`,
		project,
	)
	if err != nil {
		return nil, fmt.Errorf("claims: %w", err)
	}
	return list, nil
}

// Card returns what was kept to show of a project, nil where that is of another revision.
func (s *Store) Card(ctx context.Context, project, revision int64) ([]byte, error) {
	var list [][]byte
	if err := s.db.SelectContext(ctx, &list, "SELECT body FROM cards WHERE project_id = ? AND revision_id = ?", project,
		revision); err != nil {
		return nil, fmt.Errorf("card: %w", err)
	}
	if len(list) == 0 {
		return nil, nil
	}
	return list[0], nil
}
