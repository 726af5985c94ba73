package cutting

import (
	"bytes"
	"cmp"
	"crypto/sha256"
	"encoding/gob"
	"encoding/hex"
	"fmt"
	"slices"
	"strconv"
)

// Found is what a longer search came to. It answers every request for the same job
// from then on, whatever the effort, so that a plan does not fall back to a dearer
// way to cut.
type Found struct {
	Job    string // of [Request.Job]
	Answer Answer // pieces are named by their place in the request
	Ended  bool   // by itself, not because it was stopped
}

// Job names what a request asks for, whatever the effort, the plan to start from and
// the names of its pieces.
func (r Request) Job() string {
	r.Effort, r.Like = 0, nil
	sum := sha256.Sum256([]byte(r.key()))
	return hex.EncodeToString(sum[:])
}

// Longer searches for a request with all of its effort, whatever is remembered, and
// remembers what it comes to. It may be stopped by the request's Stop.
func (m *Memo) Longer(r Request) (Found, error) {
	if err := r.Check(); err != nil {
		return Found{}, err
	}
	a, err := Solve(r.numbered())
	if err != nil {
		return Found{}, err
	}
	f := Found{Job: r.Job(), Answer: a, Ended: true}
	select {
	case <-r.Stop:
		f.Ended = false
	default:
	}
	return m.Recall(f), nil
}

// Recall remembers what a longer search came to, and returns that together with what
// another had come to.
func (m *Memo) Recall(f Found) Found {
	m.mu.Lock()
	defer m.mu.Unlock()
	if was, ok := m.found[f.Job]; ok {
		f = f.and(was)
		m.foundBy -= len(f.Job) + was.Answer.bytes()
	} else {
		m.jobs = append(m.jobs, f.Job)
	}
	if m.found == nil {
		m.found = map[string]Found{}
	}
	m.found[f.Job] = f
	m.foundBy += len(f.Job) + f.Answer.bytes()
	for m.foundBy > FoundBytes && len(m.jobs) > 1 {
		oldest := m.jobs[0]
		m.jobs = m.jobs[1:]
		m.foundBy -= len(oldest) + m.found[oldest].Answer.bytes()
		delete(m.found, oldest)
	}
	return f
}

// and is the better of two findings for one job: the cheaper plan, and the higher
// bound.
func (f Found) and(was Found) Found {
	a := f.Answer
	if fewer := cmp.Compare(len(was.Answer.Unmet), len(a.Unmet)); fewer < 0 || fewer == 0 && was.Answer.Cost <= a.Cost {
		a = was.Answer
	}
	a.LowerBound = max(f.Answer.LowerBound, was.Answer.LowerBound)
	a.Proved = a.LowerBound == a.Cost
	return Found{f.Job, a, f.Ended || was.Ended}
}

// Searched reports what a longer search for a request came to, if there was one.
func (m *Memo) Searched(r Request) (Found, bool) {
	m.mu.Lock()
	defer m.mu.Unlock()
	if len(m.found) == 0 {
		return Found{}, false
	}
	f, ok := m.found[r.Job()]
	return f, ok
}

// MarshalBinary writes what was found, to be kept.
func (f Found) MarshalBinary() ([]byte, error) {
	type plain Found
	var b bytes.Buffer
	err := gob.NewEncoder(&b).Encode(plain(f))
	return b.Bytes(), err
}

// UnmarshalBinary reads what [Found.MarshalBinary] wrote.
func (f *Found) UnmarshalBinary(raw []byte) error {
	type plain Found
	if err := gob.NewDecoder(bytes.NewReader(raw)).Decode((*plain)(f)); err != nil {
		return fmt.Errorf("a longer search's finding: %w", err)
	}
	return nil
}

// numbered is the request with numbers for the names of its pieces, which play no
// part while it is solved.
func (r Request) numbered() Request {
	r.Pieces = slices.Clone(r.Pieces)
	for i := range r.Pieces {
		r.Pieces[i].ID = strconv.Itoa(i)
	}
	return r
}
