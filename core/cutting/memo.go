package cutting

import (
	"encoding/binary"
	"slices"
	"strconv"
	"sync"
	"unsafe" // for sizes only

	"chamfer/core/measure"
)

// Memo remembers answers by their requests. An edit to a bed asks for dozens of
// plans, most of which cut most boards as before. An answer depends on nothing
// but its request, so remembering changes no plan; only what a longer search has
// [Found] does. The zero value is ready; a nil Memo solves every request anew. It may
// be used from several goroutines.
//
// It takes at most MemoBytes and FoundBytes of memory, as [Memo.Bytes] reckons it.
type Memo struct {
	mu      sync.Mutex
	answers map[string]Answer
	bytes   int              // that the answers and their keys take
	found   map[string]Found // by longer searches, by job
	jobs    []string         // of found, the oldest first
	foundBy int              // bytes that found takes
}

// What a Memo takes at most. Past MemoBytes all answers are forgotten, and the next is
// solved anew; past FoundBytes the oldest findings.
const (
	MemoBytes  = 64 << 20
	FoundBytes = 16 << 20
)

// Bytes is how much memory is taken: by keys, boards, cuts and names.
func (m *Memo) Bytes() (answers, found int) {
	m.mu.Lock()
	defer m.mu.Unlock()
	return m.bytes, m.foundBy
}

// bytes is about what an answer takes: each thing at its size and each text at its
// length.
func (a Answer) bytes() int {
	n := int(unsafe.Sizeof(a))
	for _, b := range a.Boards {
		n += int(
			unsafe.Sizeof(b),
		) + len(
			b.Stock.ID,
		) + len(
			b.Stock.Profile,
		) + len(
			b.Stock.Defects,
		)*int(
			unsafe.Sizeof(Span{}),
		) +
			(len(b.Strips)+len(b.Left))*int(
				unsafe.Sizeof(measure.Length(0)),
			)
		for _, c := range b.Cuts {
			n += int(unsafe.Sizeof(c)) + len(c.Piece)
		}
	}
	for _, u := range a.Unmet {
		n += int(unsafe.Sizeof(u)) + len(u.Piece) + len(u.Reason)
	}
	for _, j := range a.Joined {
		n += int(unsafe.Sizeof(j)) + len(j.Piece) + len(j.Joints)*int(unsafe.Sizeof(measure.Length(0)))
	}
	return n
}

// Solve is [Solve], from memory where it can be.
func (m *Memo) Solve(r Request) (Answer, error) {
	if m == nil {
		return Solve(r)
	}
	if f, ok := m.Searched(r); ok {
		return f.Answer.named(r.Pieces), nil
	}
	key := r.key()
	m.mu.Lock()
	a, ok := m.answers[key]
	m.mu.Unlock()
	if !ok {
		if err := r.Check(); err != nil {
			return Answer{}, err
		}
		var err error
		if a, err = Solve(r.numbered()); err != nil {
			return Answer{}, err
		}
		m.mu.Lock()
		m.keep(key, a)
		m.mu.Unlock()
	}
	return a.named(r.Pieces), nil
}

// keep remembers an answer; the lock is held.
func (m *Memo) keep(key string, a Answer) {
	if _, there := m.answers[key]; there {
		return // two asked at once
	}
	size := len(key) + a.bytes()
	if m.answers == nil || m.bytes+size > MemoBytes {
		m.answers, m.bytes = map[string]Answer{}, 0
	}
	if size <= MemoBytes {
		m.answers[key] = a
		m.bytes += size
	}
}

// named gives the pieces of an answer their names back.
func (a Answer) named(pieces []Piece) Answer {
	return a.renamed(func(id string) string {
		i, _ := strconv.Atoi(id)
		return pieces[i].ID
	})
}

func (a Answer) renamed(name func(id string) string) Answer {
	boards := slices.Clone(a.Boards)
	for i := range boards {
		cuts := slices.Clone(boards[i].Cuts)
		for k := range cuts {
			cuts[k].Piece = name(cuts[k].Piece)
		}
		boards[i].Cuts = cuts
	}
	unmet := slices.Clone(a.Unmet)
	for i := range unmet {
		unmet[i].Piece = name(unmet[i].Piece)
	}
	joined := slices.Clone(a.Joined)
	for i := range joined {
		joined[i].Piece = name(joined[i].Piece)
	}
	a.Boards, a.Unmet, a.Joined = boards, unmet, joined
	return a
}

// As is the answer as it would be to another request, which is false where that
// asks for more than other names of the pieces or another effort.
func (a Answer) As(was, now Request) (Answer, bool) {
	was.Effort, was.Like = now.Effort, now.Like
	if was.key() != now.key() {
		return Answer{}, false
	}
	place := map[string]string{}
	for i, p := range was.Pieces {
		place[p.ID] = strconv.Itoa(i)
	}
	return a.renamed(func(id string) string { return place[id] }).named(now.Pieces), true
}

// key is all of a request but the names of its pieces.
func (r Request) key() string {
	b := make([]byte, 0, 64*(len(r.Stock)+len(r.Pieces)))
	num := func(n int64) { b = binary.AppendVarint(b, n) }
	text := func(s string) {
		num(int64(len(s)))
		b = append(b, s...)
	}
	spans := func(list []Span) {
		num(int64(len(list)))
		for _, s := range list {
			num(int64(s.From))
			num(int64(s.To))
		}
	}
	num(int64(r.Kerf))
	num(int64(r.Keep))
	num(r.Effort)
	num(int64(r.RipKerf))
	num(int64(len(r.Aims)))
	if r.Aims == nil {
		num(-1)
	}
	for _, a := range r.Aims {
		text(string(a))
	}
	num(0)
	if s := r.Shop; s != nil {
		num(1)
		num(int64(s.Carry))
		num(int64(s.Fee))
		num(int64(s.Free))
		num(int64(s.Loss))
	}
	num(int64(len(r.Stock)))
	for _, s := range r.Stock {
		text(s.ID)
		text(s.Profile)
		num(int64(s.Length))
		num(int64(s.Price))
		num(int64(s.Quantity))
		flags := int64(0)
		if s.Shelf {
			flags++
		}
		if s.Brought {
			flags += 2
		}
		num(flags)
		num(int64(s.TrimStart))
		num(int64(s.TrimEnd))
		num(int64(s.Width))
		spans(s.Defects)
	}
	num(int64(len(r.Like)))
	for _, b := range r.Like {
		text(b.Stock.ID)
		num(int64(b.Count))
		num(int64(b.Part))
		num(int64(len(b.Strips)))
		num(int64(len(b.Cuts)))
		for _, c := range b.Cuts {
			num(int64(c.Length))
			num(int64(c.Width))
			num(int64(c.At))
			num(int64(c.Strip))
			num(int64(c.Out))
		}
	}
	for _, p := range r.Pieces {
		text(p.Profile)
		num(int64(p.Length))
		num(int64(p.Width))
		num(int64(p.Quantity))
		if p.Turn {
			num(1)
		}
		num(0)
		if j := p.Join; j != nil {
			num(1)
			num(int64(j.Least))
			num(int64(j.Cost))
			text(j.Wall)
			num(int64(j.Course))
			num(int64(j.Apart))
			num(int64(j.Step))
			spans(j.Clear)
		}
	}
	return string(b)
}
