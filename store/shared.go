package store

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"sync"
	"sync/atomic"
	"time"

	"github.com/jmoiron/sqlx"
)

// Log is one that several stores share: each store's file is its view of it. It is an engine's that keeps it on several
// machines; package stream has one. A log keeps what it has acknowledged as its own policy says.
type Log interface {
	// Append adds the pieces of one change, all of them or none, each only where After is the last of its subject,
	// and returns the number of the last. It fails with [ErrMoved] where one is not, or where the change is in the log
	// already, and with [ErrMuch]; after any other fault nobody knows whether it was added. The same change, by its name,
	// is never added
	// twice.
	Append(ctx context.Context, name string, pieces []Piece) (last uint64, err error)
	// Last is the number of the first that is still there, and of the last there is, 0 for none.
	Last(ctx context.Context) (first, last uint64, err error)
	// Follow hands over what comes after a number, whole changes at a time, until ctx is done or take fails.
	Follow(ctx context.Context, after uint64, take func([]Logged) error) error
	// Put keeps a thing that is too large for a piece, Get reads it, nil where it is not there, and Drop takes it away.
	Put(ctx context.Context, name string, body []byte) error
	Get(ctx context.Context, name string) ([]byte, error)
	Drop(ctx context.Context, name string) error
	// Forget takes what is before a number out of the past of a subject, for good.
	Forget(ctx context.Context, subject string, before uint64) error
	// Newest is the newest copy of a whole file that was put beside the log and how far the log is in it, "" for none.
	// Fetch writes it to a file; Store puts one there, and takes those away that it makes needless.
	Newest(ctx context.Context) (name string, at uint64, err error)
	Fetch(ctx context.Context, name, to string) error
	Store(ctx context.Context, from string, at uint64) error
	// Trimmed is up to where the log has been cut: what is missing before it is in a copy.
	Trimmed(ctx context.Context) (uint64, error)
	// First reports whether nobody has put what they had into the log before; it is true once.
	First(ctx context.Context) (bool, error)
	// Cluster is what all who share the log are called, Node a number that nobody else has who writes to it.
	Cluster() string
	Node() int64
}

// Piece is what a change does to what one subject is about; Logged is one that is in the log. Name is the change's,
// with
// a dot and the number of the piece.
type (
	Piece struct {
		Subject string
		After   uint64
		Body    []byte
	}
	Logged struct {
		Subject string
		Seq     uint64
		Body    []byte
		Name    string
	}
)

// Reasons that a log gives, and that are given for it.
var (
	ErrMoved  = errors.New("somebody else has changed it meanwhile")
	ErrUnsaid = errors.New("the shared log did not answer")
	ErrMuch   = errors.New("that is too much at once for the shared log")
	ErrApart  = errors.New("this file and the shared log do not belong together")
)

// Bounds of sharing: how long a change is tried, how long one that was not answered is asked for again, and how long
// the
// log may be silent before this store is no view of it any more.
const (
	longestShared = 10 * time.Second
	longestAsked  = 9 * time.Second
	longestSilent = 10 * time.Second
	heartbeats    = time.Second
	mostStill     = 2 // heartbeats without what is known to be there
	retryShared   = 20 * time.Millisecond
)

// Heard is what others' changes were about, so that open pages can look anew.
type Heard struct {
	Projects   map[int64][]Revision // what became of them, as far as it is said
	Households map[int64]bool
	Access     bool // who may come in
	Found      bool // what longer searches came to
}

// shared is what a store has that is a view of a log.
type shared struct {
	s      *Store
	log    Log
	report *slog.Logger
	tables map[string]*table
	schema int64 // version of them

	turn  sync.Mutex // one change of the file at a time: this store's or another's
	write *sqlx.Conn // for this store's changes, which are caught
	take  *sqlx.Conn // for others', which are taken as they are

	mu     sync.Mutex
	at     uint64           // how far the log is in the file
	moved  chan struct{}    // closed when at grows
	issued map[string]int64 // the last number of each table that was given out
	heard  time.Time        // when the log last answered
	last   uint64           // what it said was its last
	first  uint64           // and its first
	names  map[string]bool  // changes of this store that have come back from the log
	older  map[string]bool  // and before those
	stuck  error            // why the last of others' changes were not taken
	broken error            // why they are taken no more
	tell   func(Heard)
	anew   context.CancelFunc // has what comes asked for again

	tries  atomic.Int64
	ctx    context.Context
	stop   context.CancelFunc
	active sync.WaitGroup
}

// Share makes the file a view of a log, and keeps it one until the store is closed. A file that has nothing yet is
// filled from the newest copy beside the log, and from the log; the first to come to a log that has nothing puts what
// it has into it. A file that has something, and was never a view of this log, is [Refused].
func (s *Store) Share(ctx context.Context, log Log, report *slog.Logger) error {
	k := &shared{s: s, log: log, report: report, moved: make(chan struct{}), issued: map[string]int64{},
		names: map[string]bool{},
		heard: s.now(), tell: func(Heard) {}}
	k.ctx, k.stop = context.WithCancel(context.Background())
	if err := k.open(ctx); err != nil {
		return errors.Join(err, k.close())
	}
	s.view, s.apart = k, false
	k.active.Go(k.follow)
	k.active.Go(k.listen)
	if err := k.ask(ctx); err != nil {
		return err
	}
	return k.await(ctx, k.last)
}

func (k *shared) open(ctx context.Context) (err error) {
	if k.tables, err = tablesOf(k.s.db); err != nil {
		return err
	}
	if k.schema, err = newest(); err != nil {
		return err
	}
	if k.write, err = k.s.db.Connx(ctx); err != nil {
		return err
	}
	if k.take, err = k.s.db.Connx(ctx); err != nil {
		return err
	}
	return k.begin(ctx)
}

func (k *shared) close() error {
	k.stop()
	k.active.Wait()
	var err error
	if k.take != nil {
		err = k.take.Close()
	}
	if k.write != nil {
		err = errors.Join(err, k.write.Close())
	}
	return err
}

// number is what a new row of a table is called: what comes next, by itself, where the file is this store's alone, and
// else one that no other store gives out. Of those in one project, or of one household, a later one is always larger.
func (s *Store) number(tx *sqlx.Tx, table string) any {
	if s.view == nil {
		return nil
	}
	var most int64
	if err := tx.Get(&most, "SELECT coalesce(max(id), 0) FROM "+table); err != nil {
		return nil // the row is refused by itself
	}
	k := s.view
	k.mu.Lock()
	defer k.mu.Unlock()
	most = max(most, k.issued[table])
	k.issued[table] = (most>>nodeBits+1)<<nodeBits | k.log.Node()&(1<<nodeBits-1)
	return k.issued[table]
}

// nodeBits of a number say whose it is; with what is left of 53, which is what a script in a page can hold, there are
// eight thousand million of each kind.
const nodeBits = 20

// Shared reports whether the file is a view of a shared log, and how far that is known to be ahead of it.
func (s *Store) Shared() (behind uint64, is bool) {
	k := s.view
	if k == nil {
		return 0, false
	}
	k.mu.Lock()
	defer k.mu.Unlock()
	return max(k.last, k.at) - k.at, true
}

// Known is how far the shared log is known to be, with all that was changed here; 0 where nothing is shared.
func (s *Store) Known() uint64 {
	k := s.view
	if k == nil {
		return 0
	}
	k.mu.Lock()
	defer k.mu.Unlock()
	return max(k.last, k.at)
}

// Await waits until the file has the shared log up to a number. A number that the log has not come to is none.
func (s *Store) Await(ctx context.Context, at uint64) error {
	k := s.view
	if k == nil {
		return nil
	}
	if at > s.Known() && k.ask(ctx) == nil && at > s.Known() {
		return nil
	}
	return k.await(ctx, at)
}

// InTouch says why the file is no view of the shared log at the moment, nil where it is, or nothing is shared.
func (s *Store) InTouch() error {
	k := s.view
	if k == nil {
		return nil
	}
	k.mu.Lock()
	defer k.mu.Unlock()
	if k.broken != nil {
		return k.broken
	}
	if k.stuck != nil {
		return k.stuck
	}
	if silent := k.s.now().Sub(k.heard); silent > longestSilent {
		return fmt.Errorf("%w for %v", ErrUnsaid, silent.Round(time.Second))
	}
	return nil
}

// OnHeard has tell called with what others have changed, after it can be read here.
func (s *Store) OnHeard(tell func(Heard)) {
	if k := s.view; k != nil {
		k.mu.Lock()
		k.tell = tell
		k.mu.Unlock()
	}
}

func (k *shared) reached(at uint64) {
	k.mu.Lock()
	defer k.mu.Unlock()
	if at > k.at {
		k.at = at
		close(k.moved)
		k.moved = make(chan struct{})
	}
}

// fail says that others' changes are taken no more, to whoever waits for them too. k.mu is held.
func (k *shared) fail(err error) {
	k.broken = err
	close(k.moved)
	k.moved = make(chan struct{})
}

func (k *shared) await(ctx context.Context, at uint64) error {
	for {
		k.mu.Lock()
		now, moved, broken := k.at, k.moved, k.broken
		k.mu.Unlock()
		if now >= at {
			return nil
		}
		if broken != nil {
			return broken
		}
		select {
		case <-moved:
		case <-ctx.Done():
			return fmt.Errorf("%w: it is at %d, and this file at %d", ErrUnsaid, at, now)
		case <-k.ctx.Done():
			return k.ctx.Err()
		}
	}
}

// follow takes others' changes as they come.
func (k *shared) follow() {
	for k.ctx.Err() == nil {
		ctx, cancel := context.WithCancel(k.ctx)
		k.mu.Lock()
		at := k.at
		k.anew = cancel
		k.mu.Unlock()
		err := k.log.Follow(ctx, at, k.apply)
		cancel()
		if k.ctx.Err() != nil {
			return
		}
		if errors.Is(err, errNoSense) {
			k.mu.Lock()
			k.fail(err)
			k.mu.Unlock()
			k.report.Error("the shared log", "err", err)
			return
		}
		k.report.Warn("the shared log", "err", err)
		select {
		case <-k.ctx.Done():
		case <-time.After(5 * retryShared):
		}
	}
}

// listen asks the log how far it is, so that silence is noticed.
func (k *shared) listen() {
	still, was := 0, uint64(0) // for so many beats nothing has come, though there is more
	for every := time.NewTicker(heartbeats); ; {
		ctx, cancel := context.WithTimeout(k.ctx, 2*heartbeats)
		if k.ask(ctx) == nil {
			k.forget()
		}
		cancel()
		k.mu.Lock()
		if still++; k.at >= k.last || k.at != was {
			still, was = 0, k.at
		}
		if still >= mostStill && k.anew != nil { // whoever handed it over may be gone: another is asked
			k.anew()
			still = 0
		}
		k.mu.Unlock()
		select {
		case <-k.ctx.Done():
			every.Stop()
			return
		case <-every.C:
		}
	}
}

// ask asks it once.
func (k *shared) ask(ctx context.Context) error {
	first, last, err := k.log.Last(ctx)
	if err != nil {
		return err
	}
	cut, err := k.log.Trimmed(ctx)
	if err != nil {
		return err
	}
	k.mu.Lock()
	defer k.mu.Unlock()
	k.heard, k.last, k.first = k.s.now(), max(k.last, last), max(k.first, first)
	if k.at < cut && k.broken == nil {
		k.fail(fmt.Errorf("%w: it has been cut up to %d, and this file has it up to %d: start this Chamfer anew",
			errNoSense, cut, k.at))
	}
	return nil
}
