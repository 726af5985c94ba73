package store

import (
	"context"
	"database/sql"
	"errors"
	"time"

	"github.com/jmoiron/sqlx"
)

// Sessions are what browsers' cookies stand for, kept for the session library: by the hash of their token.
type Sessions struct{ s *Store }

// Sessions returns them.
func (s *Store) Sessions() Sessions { return Sessions{s} }

// FindCtx returns what a session holds.
func (k Sessions) FindCtx(ctx context.Context, token string) (data []byte, found bool, err error) {
	err = k.s.db.GetContext(ctx, &data, "SELECT data FROM sessions WHERE token = ? AND expires > ?", token,
		k.s.now().Unix())
	if errors.Is(err, sql.ErrNoRows) {
		return nil, false, nil
	}
	return data, err == nil, err
}

// CommitCtx keeps what a session holds until it ends.
func (k Sessions) CommitCtx(ctx context.Context, token string, data []byte, expires time.Time) error {
	return k.s.inTx(func(tx *sqlx.Tx) error {
		_, err := tx.Exec(`INSERT INTO sessions (token, data, expires) VALUES (?, ?, ?)
			ON CONFLICT (token) DO UPDATE SET data = excluded.data, expires = excluded.expires`, token, data, expires.Unix())
		return err
	})
}

// DeleteCtx ends a session.
func (k Sessions) DeleteCtx(ctx context.Context, token string) error {
	return k.s.do("DELETE FROM sessions WHERE token = ?", token)
}

// Find, Commit and Delete are the same without a context.
func (k Sessions) Find(token string) ([]byte, bool, error) {
	return k.FindCtx(context.Background(), token)
}
func (k Sessions) Commit(token string, data []byte, expires time.Time) error {
	return k.CommitCtx(context.Background(), token, data, expires)
}
func (k Sessions) Delete(token string) error { return k.DeleteCtx(context.Background(), token) }

// Signin is where somebody is signed in.
type Signin struct {
	ID      int64  `db:"id"`
	Account int64  `db:"account_id"`
	Project *int64 `db:"project_id"` // all it may open, where it is a phone's
	Device  string `db:"device"`
	Created string `db:"created_at"`
	Seen    string `db:"seen_at"`
}

// SignIn notes that an account signed in on a device, to one project where that is not 0.
func (s *Store) SignIn(account, project int64, device string) (id int64, err error) {
	err = s.inTx(func(tx *sqlx.Tx) error {
		at := s.stamp()
		res, err := tx.Exec(`INSERT INTO signins (id, account_id, project_id, device, created_at, seen_at)
			VALUES (?, ?, nullif(?, 0), ?, ?, ?)`, s.number(tx, "signins"), account, project, device, at, at)
		if err != nil {
			return err
		}
		if id, err = res.LastInsertId(); err != nil {
			return err
		}
		what := "signed in on " + device
		if project != 0 {
			what = "opened a project on " + device
		}
		return s.happened(tx, account, what)
	})
	return id, err
}

// Signin returns one that holds, [ErrNobody] otherwise. That it was seen is noted once an hour.
func (s *Store) Signin(ctx context.Context, id int64) (Signin, error) {
	in, err := one[Signin](ctx, s, ErrNobody, "SELECT * FROM signins WHERE id = ?", id)
	if err != nil {
		return in, err
	}
	if seen, err := time.Parse(time.RFC3339, in.Seen); err == nil && s.now().Sub(seen) > time.Hour {
		_ = s.do("UPDATE signins SET seen_at = ? WHERE id = ?", s.stamp(), id) // the next one does it
	}
	return in, nil
}

// Signins are where an account is signed in, the last seen first.
func (s *Store) Signins(ctx context.Context, account int64) ([]Signin, error) {
	var list []Signin
	err := s.db.SelectContext(ctx, &list, "SELECT * FROM signins WHERE account_id = ? ORDER BY seen_at DESC, id DESC",
		account)
	return list, err
}

// SignOut ends a sign-in of an account; 0 ends all of them but one.
func (s *Store) SignOut(account, id, but int64) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		if id != 0 {
			_, err := tx.Exec("DELETE FROM signins WHERE id = ? AND account_id = ?", id, account)
			return errors.Join(err, s.happened(tx, account, "signed out a device"))
		}
		_, err := tx.Exec("DELETE FROM signins WHERE account_id = ? AND id <> ?", account, but)
		return errors.Join(err, s.happened(tx, account, "signed out everywhere else"))
	})
}

// SeenDevice reports whether a device has signed in as an account before, by the hash of what it holds.
func (s *Store) SeenDevice(ctx context.Context, hash []byte, account int64) (bool, error) {
	var seen bool
	err := s.db.GetContext(ctx, &seen, "SELECT EXISTS (SELECT 1 FROM devices WHERE hash = ? AND account_id = ?)", hash,
		account)
	return seen, err
}

// KeepDevice notes that one has.
func (s *Store) KeepDevice(hash []byte, account int64) error {
	return s.do("INSERT INTO devices (hash, account_id, created_at) VALUES (?, ?, ?) ON CONFLICT DO NOTHING", hash,
		account, s.stamp())
}

// Passkey is a key of a device that signs an account in, at one host name.
type Passkey struct {
	ID      []byte `db:"id"`
	Account int64  `db:"account_id"`
	Name    string `db:"name"`
	Host    string `db:"host"`
	Body    []byte `db:"body"` // the credential, as its library keeps it
	Created string `db:"created_at"`
}

// Passkeys are an account's, the newest first.
func (s *Store) Passkeys(ctx context.Context, account int64) ([]Passkey, error) {
	var list []Passkey
	err := s.db.SelectContext(ctx, &list, "SELECT * FROM passkeys WHERE account_id = ? ORDER BY created_at DESC, name",
		account)
	return list, err
}

// KeepPasskey keeps one, or what it has become by being used.
func (s *Store) KeepPasskey(p Passkey) error {
	p.Created = s.stamp()
	return s.inTx(func(tx *sqlx.Tx) error {
		res, err := tx.NamedExec(`INSERT INTO passkeys (id, account_id, name, host, body, created_at)
			VALUES (:id, :account_id, :name, :host, :body, :created_at)
			ON CONFLICT (id) DO UPDATE SET body = excluded.body WHERE account_id = excluded.account_id`, p)
		return orNobody(res, err)
	})
}

// DropPasskey takes one of an account's away.
func (s *Store) DropPasskey(account int64, id []byte) error {
	return s.inTx(func(tx *sqlx.Tx) error {
		_, err := tx.Exec("DELETE FROM passkeys WHERE id = ? AND account_id = ?", id, account)
		return errors.Join(err, s.happened(tx, account, "took a passkey away"))
	})
}
