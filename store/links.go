package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/jmoiron/sqlx"

	"chamfer/people"
)

// Kind is what a link does.
type Kind string

// The kinds of links.
const (
	First   Kind = "first"   // makes the first account
	Invite  Kind = "invite"  // takes somebody into a household, or to one project of it
	Recover Kind = "recover" // sets a new password
	Share   Kind = "share"   // shows one project to whoever has it, in a role
	Phone   Kind = "phone"   // signs a phone in to one project, as who made it
)

// Link lets somebody in. What it is opened by is not kept, only its hash.
type Link struct {
	ID        int64       `db:"id"`
	Hash      []byte      `db:"hash"`
	Kind      Kind        `db:"kind"`
	Household *int64      `db:"household_id"`
	Project   *int64      `db:"project_id"`
	Account   *int64      `db:"account_id"` // whom it is for
	By        *int64      `db:"made_by"`
	Role      people.Role `db:"role"`
	Note      string      `db:"note"`
	Once      bool        `db:"once"`
	Opened    int         `db:"opened"`
	Created   string      `db:"created_at"`
	Expires   string      `db:"expires_at"`
}

// MakeLink keeps a link for a time, and returns what it is opened by.
func (s *Store) MakeLink(l Link, lasts time.Duration) (secret string, err error) {
	secret, l.Hash = people.Secret()
	l.Created, l.Expires = s.stamp(), s.now().Add(lasts).UTC().Format(time.RFC3339)
	return secret, s.inTx(func(tx *sqlx.Tx) error {
		if l.Kind == First || l.Kind == Recover { // the one before it opens nothing any more
			if _, err := tx.Exec("DELETE FROM links WHERE kind = ? AND coalesce(account_id, 0) = coalesce(?, 0)", l.Kind,
				l.Account); err != nil {
				return err
			}
		}
		_, err := tx.Exec(`INSERT INTO links (id, hash, kind, household_id, project_id, account_id, made_by, role, note,
			once, created_at, expires_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`, s.number(tx, "links"), l.Hash, l.Kind,
			l.Household, l.Project, l.Account, l.By, l.Role, l.Note, l.Once, l.Created, l.Expires)
		if err != nil {
			return fmt.Errorf("link: %w", err)
		}
		return nil
	})
}

// Link returns the link that a secret opens, [ErrNoLink] where it is used up, over or taken back.
func (s *Store) Link(ctx context.Context, secret string) (Link, error) {
	return one[Link](ctx, s, ErrNoLink, "SELECT * FROM links WHERE hash = ? AND expires_at > ?", people.Kept(secret),
		s.stamp())
}

// LinkOf returns a link by its number, while it holds.
func (s *Store) LinkOf(ctx context.Context, id int64) (Link, error) {
	return one[Link](ctx, s, ErrNoLink, "SELECT * FROM links WHERE id = ? AND expires_at > ?", id, s.stamp())
}

// OpenLink counts that a link was opened; one that works once opens nothing from then on.
func (s *Store) OpenLink(l Link) error {
	return s.inTx(func(tx *sqlx.Tx) error { return s.use(tx, l) })
}

func (s *Store) use(tx *sqlx.Tx, l Link) error {
	var holds bool
	if err := tx.Get(&holds, "SELECT EXISTS (SELECT 1 FROM links WHERE id = ? AND expires_at > ?)", l.ID,
		s.stamp()); err != nil || !holds {
		return errors.Join(err, errIf(!holds, ErrNoLink))
	}
	query := "UPDATE links SET opened = opened + 1 WHERE id = ?"
	if l.Once {
		query = "DELETE FROM links WHERE id = ?"
	}
	if l.Kind == First {
		var some bool
		if err := tx.Get(&some, "SELECT EXISTS (SELECT 1 FROM accounts)"); err != nil || some {
			return errors.Join(err, errIf(some, ErrNoLink))
		}
	}
	_, err := tx.Exec(query, l.ID)
	return err
}

// Links are those of a project, or of a household where project is 0, that hold, the newest first.
func (s *Store) Links(ctx context.Context, household, project int64) ([]Link, error) {
	var list []Link
	query, of := "SELECT * FROM links WHERE kind = 'invite' AND household_id = ?", household
	if project != 0 {
		query, of = "SELECT * FROM links WHERE kind IN ('share', 'invite', 'phone') AND project_id = ?", project
	}
	err := s.db.SelectContext(ctx, &list, query+" AND expires_at > ? ORDER BY id DESC", of, s.stamp())
	return list, err
}

// EndLink takes a link back. Only one of a project, or where project is 0 of a household, is.
func (s *Store) EndLink(id, household, project int64) error {
	query, of := "DELETE FROM links WHERE id = ? AND household_id = ?", household
	if project != 0 {
		query, of = "DELETE FROM links WHERE id = ? AND project_id = ?", project
	}
	return s.do(query, id, of)
}
