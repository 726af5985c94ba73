package store

import (
	"context"
	"crypto/rand"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"time"

	"github.com/jmoiron/sqlx"

	"chamfer/people"
)

// Home is the household of a file in which nobody has an account; the first account owns it.
const Home int64 = 1

// Errors about people that a caller decides on.
var (
	ErrNobody    = errors.New("there is nobody of that name")
	ErrNameTaken = errors.New("somebody signs in with that name already")
	ErrLastOwner = errors.New("a household keeps one owner")
	ErrNoLink    = errors.New("that link opens nothing")
)

// Account is somebody who can sign in.
type Account struct {
	ID       int64  `db:"id"`
	Name     string `db:"name"`
	Password string `db:"password"` // argon2id, "" for none yet
	Handle   []byte `db:"handle"`   // what passkeys know it by
	Created  string `db:"created_at"`
}

// Household is what everything belongs to.
type Household struct {
	ID   int64       `db:"id"`
	Name string      `db:"name"`
	Role people.Role `db:"role"` // of whoever asks
}

// Member is somebody in a household.
type Member struct {
	Account int64       `db:"account_id"`
	Name    string      `db:"name"`
	Role    people.Role `db:"role"`
}

// Guarded reports whether anybody has an account.
func (s *Store) Guarded(ctx context.Context) (bool, error) {
	var some bool
	err := s.db.GetContext(ctx, &some, "SELECT EXISTS (SELECT 1 FROM accounts)")
	return some, err
}

// Account returns an account by its number.
func (s *Store) Account(ctx context.Context, id int64) (Account, error) {
	return one[Account](ctx, s, ErrNobody, "SELECT * FROM accounts WHERE id = ?", id)
}

// AccountNamed returns an account by the name it signs in with.
func (s *Store) AccountNamed(ctx context.Context, name string) (Account, error) {
	return one[Account](ctx, s, ErrNobody, "SELECT * FROM accounts WHERE name = ?", name)
}

// AccountOf returns the account that passkeys know by a handle.
func (s *Store) AccountOf(ctx context.Context, handle []byte) (Account, error) {
	return one[Account](ctx, s, ErrNobody, "SELECT * FROM accounts WHERE handle = ?", handle)
}

// Accounts lists all of them, by name.
func (s *Store) Accounts(ctx context.Context) ([]Account, error) {
	var list []Account
	err := s.db.SelectContext(ctx, &list, "SELECT * FROM accounts ORDER BY name")
	return list, err
}

// one reads a row, or the error that stands for none.
func one[T any](ctx context.Context, s *Store, none error, query string, args ...any) (T, error) {
	var row T
	err := s.db.GetContext(ctx, &row, query, args...)
	if errors.Is(err, sql.ErrNoRows) {
		return row, none
	}
	return row, err
}

// Join makes an account, or takes one there is, into a household. name and password are those of a new one; an
// account that is there, by its number, keeps its own. In a household it is in already it gets the role where that
// is more.
func (s *Store) Join(l Link, there int64, name, password string) (account int64, err error) {
	err = s.inTx(func(tx *sqlx.Tx) error {
		if err := s.use(tx, l); err != nil {
			return err
		}
		account = there // it may be begun once more
		if account == 0 {
			var err error
			if account, err = s.newAccount(tx, name, password); err != nil {
				return err
			}
		}
		household, role := Home, people.Owner
		if l.Household != nil {
			household, role = *l.Household, l.Role
		}
		if err := s.settle(tx, household); err != nil {
			return err
		}
		var has people.Role
		err := tx.Get(&has, "SELECT role FROM members WHERE household_id = ? AND account_id = ?", household, account)
		if err != nil && !errors.Is(err, sql.ErrNoRows) {
			return err
		}
		if has == "" || has != role && people.Lesser(has, role) == has {
			if _, err := tx.Exec(`INSERT INTO members (household_id, account_id, role) VALUES (?, ?, ?)
				ON CONFLICT (household_id, account_id) DO UPDATE SET role = excluded.role`, household, account,
				role); err != nil {
				return err
			}
		}
		if l.Project != nil { // invited to one project only
			_, err = tx.Exec(`INSERT INTO project_roles (project_id, account_id, role) VALUES (?, ?, ?)
				ON CONFLICT (project_id, account_id) DO UPDATE SET role = excluded.role`, *l.Project, account, l.Note)
		} else {
			err = nil
		}
		return errors.Join(err, s.happened(tx, account, "joined a household"))
	})
	return account, err
}

func (s *Store) newAccount(tx *sqlx.Tx, name, password string) (int64, error) {
	var taken bool
	if err := tx.Get(&taken, "SELECT EXISTS (SELECT 1 FROM accounts WHERE name = ?)", name); err != nil || taken {
		return 0, errors.Join(err, errIf(taken, ErrNameTaken))
	}
	handle := make([]byte, 32)
	_, _ = rand.Read(handle)
	res, err := tx.Exec("INSERT INTO accounts (id, name, password, handle, created_at) VALUES (?, ?, ?, ?, ?)",
		s.number(tx, "accounts"), name, password, handle, s.stamp())
	if err != nil {
		return 0, fmt.Errorf("account: %w", err)
	}
	return res.LastInsertId()
}

func errIf(is bool, err error) error {
	if is {
		return err
	}
	return nil
}

// settle makes sure that the household of the file is there.
func (s *Store) settle(tx *sqlx.Tx, household int64) error {
	if household != Home {
		return nil
	}
	_, err := tx.Exec("INSERT INTO households (id, name, created_at) VALUES (?, 'Our household', ?) ON CONFLICT DO"+
		" NOTHING",
		Home, s.stamp())
	return err
}

// FoundHousehold makes a household with one owner.
func (s *Store) FoundHousehold(name string, owner int64) (id int64, err error) {
	err = s.inTx(func(tx *sqlx.Tx) error {
		res, err := tx.Exec("INSERT INTO households (id, name, created_at) VALUES (?, ?, ?)", s.number(tx, "households"),
			name,
			s.stamp())
		if err != nil {
			return err
		}
		if id, err = res.LastInsertId(); err != nil {
			return err
		}
		_, err = tx.Exec("INSERT INTO members (household_id, account_id, role) VALUES (?, ?, ?)", id, owner, people.Owner)
		return err
	})
	return id, err
}

// RenameHousehold calls it something else.
func (s *Store) RenameHousehold(id int64, name string) error {
	return s.do("UPDATE households SET name = ? WHERE id = ?", name, id)
}

// Households are those an account is in, with its role there, by name.
func (s *Store) Households(ctx context.Context, account int64) ([]Household, error) {
	var list []Household
	err := s.db.SelectContext(ctx, &list, `SELECT h.id, h.name, m.role FROM households h
		JOIN members m ON m.household_id = h.id WHERE m.account_id = ? ORDER BY h.name, h.id`, account)
	return list, err
}

// HouseholdName is what one is called.
func (s *Store) HouseholdName(ctx context.Context, id int64) (name string, err error) {
	err = s.db.GetContext(ctx, &name, "SELECT coalesce((SELECT name FROM households WHERE id = ?), '')", id)
	return name, err
}

// Members are who is in a household, by name.
func (s *Store) Members(ctx context.Context, household int64) ([]Member, error) {
	var list []Member
	err := s.db.SelectContext(ctx, &list, `SELECT m.account_id, a.name, m.role FROM members m
		JOIN accounts a ON a.id = m.account_id WHERE m.household_id = ? ORDER BY a.name`, household)
	return list, err
}

// Named are the members a project has a role of its own for, by name.
func (s *Store) Named(ctx context.Context, project int64) ([]Member, error) {
	var list []Member
	err := s.db.SelectContext(ctx, &list, `SELECT n.account_id, a.name, n.role FROM project_roles n
		JOIN accounts a ON a.id = n.account_id WHERE n.project_id = ? ORDER BY a.name`, project)
	return list, err
}

// RoleIn is the role of an account in a household, and in one of its projects, each "" for none.
func (s *Store) RoleIn(ctx context.Context, household, project, account int64) (of, in people.Role, err error) {
	row := struct {
		Of people.Role `db:"of"`
		In people.Role `db:"in_it"`
	}{}
	err = s.db.GetContext(ctx, &row, `SELECT
		coalesce((SELECT role FROM members WHERE household_id = ? AND account_id = ?), '') AS "of",
		coalesce((SELECT role FROM project_roles WHERE project_id = ? AND account_id = ?), '') AS in_it`, household,
		account, project, account)
	return row.Of, row.In, err
}

// SetRole changes the role of a member; "" takes them out, with their roles in the household's projects and the links
// they made for it. The last owner stays one: [ErrLastOwner].
func (s *Store) SetRole(household, account int64, role people.Role) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		if role != people.Owner {
			var others int
			if err := tx.Get(&others, "SELECT count(*) FROM members WHERE household_id = ? AND role = ? AND account_id <> ?",
				household, people.Owner, account); err != nil {
				return err
			}
			if others == 0 {
				return ErrLastOwner
			}
			if _, err := tx.Exec(`DELETE FROM links WHERE made_by = ? AND (household_id = ? OR project_id IN
				(SELECT id FROM projects WHERE household_id = ?))`, account, household, household); err != nil {
				return err
			}
		}
		if role != "" {
			res, err := tx.Exec("UPDATE members SET role = ? WHERE household_id = ? AND account_id = ?", role, household,
				account)
			return orNobody(res, err)
		}
		if _, err := tx.Exec(`DELETE FROM project_roles WHERE account_id = ? AND project_id IN
			(SELECT id FROM projects WHERE household_id = ?)`, account, household); err != nil {
			return err
		}
		res, err := tx.Exec("DELETE FROM members WHERE household_id = ? AND account_id = ?", household, account)
		return orNobody(res, err)
	})
}

func orNobody(res sql.Result, err error) error {
	if err != nil {
		return err
	}
	if n, err := res.RowsAffected(); err != nil || n == 0 {
		return errors.Join(err, ErrNobody)
	}
	return nil
}

// SetProjectRole gives a member of a project's household a role of their own in it; "" takes it back.
func (s *Store) SetProjectRole(project, account int64, role people.Role) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		if role != people.Owner { // links they made to it end
			if _, err := tx.Exec("DELETE FROM links WHERE project_id = ? AND made_by = ? AND kind <> 'phone'", project,
				account); err != nil {
				return err
			}
		}
		if role == "" {
			res, err := tx.Exec("DELETE FROM project_roles WHERE project_id = ? AND account_id = ?", project, account)
			return orNobody(res, err)
		}
		res, err := tx.Exec(`INSERT INTO project_roles (project_id, account_id, role)
			SELECT p.id, m.account_id, ? FROM projects p JOIN members m ON m.household_id = p.household_id
			WHERE p.id = ? AND m.account_id = ?
			ON CONFLICT (project_id, account_id) DO UPDATE SET role = excluded.role`, role, project, account)
		return orNobody(res, err)
	})
}

// RenameAccount changes the name an account signs in with.
func (s *Store) RenameAccount(account int64, name string) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		var taken bool
		if err := tx.Get(&taken, "SELECT EXISTS (SELECT 1 FROM accounts WHERE name = ? AND id <> ?)", name,
			account); err != nil || taken {
			return errors.Join(err, errIf(taken, ErrNameTaken))
		}
		_, err := tx.Exec("UPDATE accounts SET name = ? WHERE id = ?", name, account)
		return err
	})
}

// SetPassword keeps the hash of a password. Everything else that is signed in as the account is signed out.
func (s *Store) SetPassword(account int64, hash string, but int64) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		return s.setPassword(tx, account, hash, but)
	})
}

func (s *Store) setPassword(tx *sqlx.Tx, account int64, hash string, but int64) error {
	if _, err := tx.Exec("UPDATE accounts SET password = ? WHERE id = ?", hash, account); err != nil {
		return err
	}
	if _, err := tx.Exec("DELETE FROM signins WHERE account_id = ? AND id <> ?", account, but); err != nil {
		return err
	}
	return s.happened(tx, account, "set a password; everywhere else was signed out")
}

// Recover sets a password by a link that was made at the machine, and uses the link up.
func (s *Store) Recover(l Link, hash string) error {
	if l.Account == nil {
		return ErrNoLink
	}
	return s.inTx(func(tx *sqlx.Tx) error {
		if err := s.use(tx, l); err != nil {
			return err
		}
		return s.setPassword(tx, *l.Account, hash, 0)
	})
}

// Happening is something that was done about who may come in.
type Happening struct {
	What string `db:"what"`
	At   string `db:"at"`
}

// keptHappenings is how long they are kept.
const keptHappenings = 90 * 24 * time.Hour

// Happened notes something that an account did, or that was tried in its name.
func (s *Store) Happened(account int64, what string) error {
	return s.inTx(func(tx *sqlx.Tx) error { return s.happened(tx, account, what) })
}

func (s *Store) happened(tx *sqlx.Tx, account int64, what string) error {
	_, err := tx.Exec("INSERT INTO happenings (id, account_id, what, at) VALUES (?, ?, ?, ?)", s.number(tx, "happenings"),
		account, what, s.stamp())
	return err
}

// Happenings are an account's, the newest first.
func (s *Store) Happenings(ctx context.Context, account int64, limit int) ([]Happening, error) {
	var list []Happening
	err := s.db.SelectContext(ctx, &list, "SELECT what, at FROM happenings WHERE account_id = ? ORDER BY id DESC LIMIT ?",
		account, limit)
	return list, err
}

// DeleteAccount deletes an account and all that is kept of it: at once and for good. Its edits stay, as nobody's. A
// household whose last member it was goes with it; one that would be left without an owner is refused.
func (s *Store) DeleteAccount(account int64) error {
	if s.view != nil {
		if err := s.unname(account); err != nil {
			return err
		}
	}
	return s.inTx(func(tx *sqlx.Tx) error {
		left, err := leaving(tx, account)
		if err != nil {
			return err
		}
		for _, h := range left {
			if h.Others == 0 {
				if err := deleteHousehold(tx, h.Household); err != nil {
					return err
				}
			}
		}
		if _, err := tx.Exec("UPDATE revisions SET account_id = NULL WHERE account_id = ?", account); err != nil {
			return err
		}
		res, err := tx.Exec("DELETE FROM accounts WHERE id = ?", account)
		return errors.Join(orNobody(res, err), s.settle(tx, Home))
	})
}

// unname makes an account's edits nobody's, in parts: a shared log takes no change of too many projects. It does so
// only where the account can go.
func (s *Store) unname(account int64) error {
	for more := true; more; {
		err := s.inTx(func(tx *sqlx.Tx) error {
			if _, err := leaving(tx, account); err != nil {
				return err
			}
			var list []int64
			if err := tx.Select(&list, "SELECT DISTINCT project_id FROM revisions WHERE account_id = ? LIMIT ?", account,
				sweptAtOnce); err != nil {
				return err
			}
			more = len(list) == sweptAtOnce
			for _, project := range list {
				if _, err := tx.Exec("UPDATE revisions SET account_id = NULL WHERE account_id = ? AND project_id = ?", account,
					project); err != nil {
					return err
				}
			}
			return nil
		})
		if err != nil {
			return err
		}
	}
	return nil
}

// left is a household that somebody leaves, and who is in it besides.
type left struct {
	Household int64 `db:"household_id"`
	Others    int   `db:"others"`
	Owners    int   `db:"owners"`
}

// leaving are the households that an account is in, [ErrLastOwner] where one would be left without an owner.
func leaving(tx *sqlx.Tx, account int64) (list []left, err error) {
	if err := tx.Select(&list, `SELECT m.household_id,
		(SELECT count(*) FROM members o WHERE o.household_id = m.household_id AND o.account_id <> m.account_id) AS others,
		(SELECT count(*) FROM members o WHERE o.household_id = m.household_id AND o.account_id <> m.account_id
			AND o.role = ?) AS owners FROM members m WHERE m.account_id = ?`, people.Owner, account); err != nil {
		return nil, err
	}
	for _, h := range list {
		if h.Others > 0 && h.Owners == 0 {
			return nil, ErrLastOwner
		}
	}
	return list, nil
}

// deleteHousehold takes away a household with everything in it.
func deleteHousehold(tx *sqlx.Tx, household int64) error {
	for _, query := range []string{
		"DELETE FROM projects WHERE household_id = ?",
		"DELETE FROM shed WHERE household_id = ?",
		"DELETE FROM households WHERE id = ?",
	} {
		if _, err := tx.Exec(query, household); err != nil {
			return fmt.Errorf("household %d: %w", household, err)
		}
	}
	return nil
}

// EditsBy counts the edits that bear an account's name.
func (s *Store) EditsBy(ctx context.Context, account int64) (n int, err error) {
	err = s.db.GetContext(ctx, &n, "SELECT count(*) FROM revisions WHERE account_id = ?", account)
	return n, err
}

// HasAccounts reports whether anybody has an account in a file, which need not be there; nothing is changed in it.
func HasAccounts(path string) (bool, error) {
	at, err := os.Stat(path)
	if errors.Is(err, os.ErrNotExist) || err == nil && at.Size() == 0 {
		return false, nil
	}
	if err != nil {
		return false, err
	}
	db, err := connect(path, "rw")
	if err != nil {
		return false, err
	}
	defer db.Close()
	var tables int
	query := "SELECT count(*) FROM sqlite_master WHERE type = 'table' AND name = 'accounts'"
	if err := db.Get(&tables, query); err != nil ||
		tables == 0 {
		return false, err
	}
	var some bool
	err = db.Get(&some, "SELECT EXISTS (SELECT 1 FROM accounts)")
	return some, err
}
