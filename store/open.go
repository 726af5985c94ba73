package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"time"

	"github.com/gofrs/flock"
	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	_ "modernc.org/sqlite" // the driver, in pure Go
)

//go:embed migrations
var migrations embed.FS

// Reasons a file is not opened. Each is wrapped in a sentence that says what to do.
var (
	ErrForeign = errors.New("this is no file of projects")
	ErrTorn    = errors.New("this is half a copy of a file of projects")
	ErrBroken  = errors.New("this file is damaged")
	ErrNewer   = errors.New("this file is of a newer Chamfer")
	ErrInUse   = errors.New("this file is in use")
)

// Refused says why a file is not opened, and what would work. Nothing has been changed
// in it.
type Refused struct {
	Path   string
	Reason error
	Do     string
}

func (r *Refused) Error() string { return fmt.Sprintf("%s: %v; %s", r.Path, r.Reason, r.Do) }
func (r *Refused) Unwrap() error { return r.Reason }

// hold is the lock beside an open file. Whoever serves from a file shares it; who
// replaces the file, or brings it up to date, has it alone.
type hold struct{ lock *flock.Flock }

func lockOf(path string) *flock.Flock { return flock.New(path+".lock", flock.SetPermissions(0o600)) }

func share(path string) (hold, error) {
	l := lockOf(path)
	ok, err := l.TryRLock()
	if err == nil && !ok {
		err = &Refused{path, ErrInUse, "another Chamfer is replacing it: try again in a moment"}
	}
	return hold{l}, err
}

func alone(path string) (hold, error) {
	l := lockOf(path)
	ok, err := l.TryLock()
	if err == nil && !ok {
		err = &Refused{path, ErrInUse, "another Chamfer serves from it: stop that one first"}
	}
	return hold{l}, err
}

func (h hold) free() error {
	if h.lock == nil {
		return nil
	}
	return h.lock.Unlock()
}

// source is the driver's name for a file, whatever characters are in its path.
func source(path, mode string) (string, error) {
	full, err := filepath.Abs(path)
	if err != nil {
		return "", err
	}
	u := url.URL{Scheme: "file", OmitHost: true, Path: full}
	q := url.Values{"_pragma": {"busy_timeout(5000)", "foreign_keys(1)", "synchronous(FULL)",
		"secure_delete(1)"}, "_txlock": {"immediate"}}
	if mode != "" {
		q.Set("mode", mode)
	} else {
		q.Add("_pragma", "journal_mode(WAL)")
	}
	u.RawQuery = q.Encode()
	return u.String(), nil
}

func connect(path, mode string) (*sqlx.DB, error) {
	name, err := source(path, mode)
	if err != nil {
		return nil, err
	}
	db, err := sqlx.Open("sqlite", name)
	if err != nil {
		return nil, fmt.Errorf("open %s: %w", path, err)
	}
	return db, nil
}

// Open opens or creates the file at path, brings it up to date and holds it in
// write-ahead mode with foreign keys on. Only its owner may read it. A file that is
// not one of projects, is damaged, or is of a newer version is [Refused] and left as
// it is; before one of an older version is brought up to date, a copy of it is made.
func Open(path string) (*Store, error) {
	h, err := share(path)
	if err != nil {
		return nil, err
	}
	s, err := open(path, h)
	if err != nil {
		return nil, errors.Join(err, h.free())
	}
	return s, nil
}

func open(path string, h hold) (*Store, error) {
	if err := private(path); err != nil {
		return nil, err
	}
	at, err := inspect(path)
	if err != nil {
		return nil, err
	}
	db, err := connect(path, "")
	if err != nil {
		return nil, err
	}
	if err := upToDate(db, path, at); err != nil {
		return nil, errors.Join(err, db.Close())
	}
	tidy(path, time.Now())
	s := &Store{db: db, now: time.Now, hold: h, path: path, writing: make(chan struct{}, 1)}
	s.idle.checkpoint = s.checkpoint
	if err := db.Get(&s.apart, "SELECT EXISTS (SELECT 1 FROM about WHERE key = ?)", clusterKey); err != nil {
		return nil, errors.Join(err, db.Close())
	}
	return s, nil
}

// Apart says what to do where the file is a view of a log that others share, and this store is not: nothing is written
// to it then. It is nil where it is neither, or both.
func (s *Store) Apart() error {
	if !s.apart || s.view != nil {
		return nil
	}
	return &Refused{s.path, ErrApart,
		"it is a view of a log that others share: say where that is with --cluster, or make" +
			" a file of your own of it with “chamfer archive” and “chamfer restore”"}
}

// private makes a file that only its owner may read, or takes everybody else's leave
// from one there is.
func private(path string) error {
	f, err := os.OpenFile(path, os.O_RDONLY|os.O_CREATE, 0o600)
	if err != nil {
		return fmt.Errorf("open %s: %w", path, err)
	}
	defer f.Close()
	info, err := f.Stat()
	if err != nil {
		return fmt.Errorf("open %s: %w", path, err)
	}
	if info.IsDir() {
		return &Refused{path, ErrForeign, "it is a folder: name a file in it"}
	}
	if info.Mode().Perm()&0o077 != 0 {
		_ = f.Chmod(info.Mode().Perm() &^ 0o077) // another's file stays as its owner has it
	}
	return nil
}

// version is the newest schema this program knows, at what a file has.
func newest() (int64, error) {
	list, err := fs.Glob(migrations, "migrations/*.sql")
	if err != nil || len(list) == 0 {
		return 0, errors.Join(errors.New("no migrations"), err)
	}
	return goose.NumericComponent(list[len(list)-1])
}

// inspect looks into a file without changing it, and returns the version of its
// schema, 0 where it is empty.
func inspect(path string) (int64, error) {
	raw, err := os.Open(path)
	if err != nil {
		return 0, fmt.Errorf("open %s: %w", path, err)
	}
	top := make([]byte, 20)
	n, err := io.ReadFull(raw, top)
	if err := errors.Join(raw.Close()); err != nil {
		return 0, fmt.Errorf("open %s: %w", path, err)
	}
	if n == 0 {
		return 0, nil
	}
	if err != nil || string(top[:16]) != "SQLite format 3\x00" {
		return 0, &Refused{path, ErrForeign, "name another file, or none for the usual one"}
	}
	journaled := top[18] == 2 // its writes go to a journal beside it first
	db, err := connect(path, "rw")
	if err != nil {
		return 0, err
	}
	defer db.Close()
	broken := func(err error) error {
		if Why(err) == Corrupt {
			return &Refused{
				path,
				ErrBroken,
				fmt.Sprintf(
					"bring back a copy with “chamfer restore COPY --data %s”, and keep this one aside (%v)",
					path,
					err,
				),
			}
		}
		return fmt.Errorf("look into %s: %w", path, err)
	}
	var tables []string
	if err := db.Select(&tables, "SELECT name FROM sqlite_master WHERE type = 'table'"); err != nil {
		return 0, broken(err)
	}
	have := map[string]bool{}
	for _, t := range tables {
		have[t] = true
	}
	switch ours := have["projects"] && have["revisions"] && have["goose_db_version"]; {
	case !ours && journaled:
		return 0, &Refused{
			path,
			ErrTorn,
			"its changes were in the journal beside it, which ends in -wal: take the copy anew with “chamfer backup”",
		}
	case !ours && len(tables) > 0:
		return 0, &Refused{path, ErrForeign, "another program made it: name another file, or none for the usual one"}
	case !ours:
		return 0, nil
	}
	var check string
	if err := db.Get(&check, "PRAGMA quick_check(1)"); err != nil {
		return 0, broken(err)
	}
	if check != "ok" {
		return 0, &Refused{
			path,
			ErrBroken,
			fmt.Sprintf(
				"bring back a copy with “chamfer restore COPY --data %s”, and keep this one aside (%s)",
				path,
				check,
			),
		}
	}
	var at int64
	if err := db.Get(&at, "SELECT coalesce(max(version_id), 0) FROM goose_db_version WHERE is_applied"); err != nil {
		return 0, broken(err)
	}
	known, err := newest()
	if err != nil {
		return 0, err
	}
	if at > known {
		return 0, &Refused{
			path,
			ErrNewer,
			fmt.Sprintf(
				"it has version %d, and this program knows %d: use the newer program, or another file",
				at,
				known,
			),
		}
	}
	return at, nil
}

// upToDate runs the migrations a file lacks, a copy of it made before.
func upToDate(db *sqlx.DB, path string, at int64) error {
	known, err := newest()
	if err != nil {
		return err
	}
	if at > 0 && at < known {
		to := fmt.Sprintf("%s.v%d-%s", path, at, time.Now().UTC().Format("20060102T150405"))
		if err := copyOf(db, to); err != nil {
			return fmt.Errorf(
				"%s is of an older version, and no copy of it could be made before it is brought up to date: %w",
				path,
				err,
			)
		}
	}
	if err := migrate(db, 0); err != nil {
		return fmt.Errorf("bring %s up to date: %w", path, err)
	}
	return nil
}

// migrate brings a file to a version of the tables, to the newest for 0.
func migrate(db *sqlx.DB, to int64) error {
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	up, err := goose.NewProvider(goose.DialectSQLite3, db.DB, sub)
	if err != nil {
		return fmt.Errorf("migrations: %w", err)
	}
	if to == 0 {
		_, err = up.Up(context.Background())
	} else {
		_, err = up.UpTo(context.Background(), to)
	}
	return err
}

// Close puts what is in the journal into the file and closes it.
func (s *Store) Close() error {
	s.idle.stop()
	s.watch.close()
	var err error
	if s.view != nil {
		err = s.view.close()
	}
	s.checkpoint()
	return errors.Join(err, s.db.Close(), s.hold.free())
}

// checkpoint puts what is in the journal into the file, so that a copy of the file
// alone has it too. Where another reads or writes just now, the next one does.
func (s *Store) checkpoint() {
	var busy, log, done sql.NullInt64
	_ = s.db.QueryRow("PRAGMA wal_checkpoint(TRUNCATE)").Scan(&busy, &log, &done)
}

const demoKind = "demo"

// IsDemo reports whether this is the file of a demo.
func (s *Store) IsDemo(ctx context.Context) (bool, error) { return isDemo(s.db) }

func isDemo(db *sqlx.DB) (bool, error) {
	var kind []string
	err := db.Select(&kind, "SELECT value FROM about WHERE key = 'kind'")
	return len(kind) == 1 && kind[0] == demoKind, err
}

// MarkDemo says that this is the file of a demo, which may be started afresh.
func (s *Store) MarkDemo() error {
	_, err := s.db.Exec(
		"INSERT INTO about (key, value) VALUES ('kind', ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value",
		demoKind,
	)
	return err
}

// OpenAfresh opens the file of a demo with nothing in it. It takes away only a file that
// says it is a demo's, and while nobody else has it open.
func OpenAfresh(path string) (*Store, error) {
	h, err := alone(path)
	if err != nil {
		return nil, err
	}
	s, err := afresh(path, h)
	if err != nil {
		return nil, errors.Join(err, h.free())
	}
	return s, nil
}

func afresh(path string, h hold) (*Store, error) {
	if _, err := os.Stat(path); err == nil {
		at, err := inspect(path)
		if err != nil {
			return nil, err
		}
		if at > 0 {
			db, err := connect(path, "rw")
			if err != nil {
				return nil, err
			}
			demo, err := isDemo(db)
			if err := errors.Join(err, db.Close()); at >= 6 && err != nil {
				return nil, err
			}
			if !demo {
				return nil, &Refused{
					path,
					ErrForeign,
					"it is not a demo's, and is not thrown away: name another file, or take this one away by hand",
				}
			}
		}
		for _, end := range []string{"", "-wal", "-shm"} {
			if err := os.Remove(path + end); err != nil && !errors.Is(err, os.ErrNotExist) {
				return nil, err
			}
		}
	}
	return open(path, h)
}
