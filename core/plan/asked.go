package plan

import (
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"slices"
	"sync"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
)

// answered is what a plan has been asked already: sizes beside its own, and what-ifs. They follow from the plan alone,
// and
// go with it. Nobody changes what is handed out.
type answered struct {
	mu       sync.Mutex
	near     map[nearKey][]Near
	outcomes map[string]Outcome
}

type nearKey struct {
	bed, field string
	step       measure.Length
	each       int
}

// mostAnswered is how many answers one plan keeps.
const mostAnswered = 2000

func (a *answered) nearOf(key nearKey) ([]Near, bool) {
	if a == nil {
		return nil, false
	}
	a.mu.Lock()
	defer a.mu.Unlock()
	list, ok := a.near[key]
	return slices.Clone(list), ok
}

func (a *answered) keepNear(key nearKey, list []Near) {
	if a == nil {
		return
	}
	a.mu.Lock()
	defer a.mu.Unlock()
	if a.near == nil || len(a.near) >= mostAnswered {
		a.near = map[nearKey][]Near{}
	}
	a.near[key] = slices.Clone(list)
}

func (a *answered) outcome(edits []design.Edit) (o Outcome, ok bool) {
	if a == nil {
		return o, false
	}
	a.mu.Lock()
	defer a.mu.Unlock()
	o, ok = a.outcomes[fmt.Sprintf("%q", edits)]
	return o, ok
}

func (a *answered) keep(edits []design.Edit, o Outcome) {
	if a == nil {
		return
	}
	a.mu.Lock()
	defer a.mu.Unlock()
	if a.outcomes == nil || len(a.outcomes) >= mostAnswered {
		a.outcomes = map[string]Outcome{}
	}
	a.outcomes[fmt.Sprintf("%q", edits)] = o
}

// Sizes remembers what designs that were asked for as sizes came to, from plan to plan: the neighbours of a size are
// mostly those of the one before it. It is safe for concurrent use; the zero value is ready.
type Sizes struct {
	mu          sync.Mutex
	now, before map[sizeKey]sized
}

type sizeKey [sha256.Size]byte

// sized is what one design came to, with ok where it can be built.
type sized struct {
	Near
	ok bool
}

// mostSizes is how many are remembered, twice: what has not been asked for since as many others came is forgotten.
const mostSizes = 60_000

// sizesOf is one asking of sizes: all that they rest on but the design.
type sizesOf struct {
	memo *Sizes
	shop []byte
}

func (p *Plan) asking() (s sizesOf) {
	if p.Shop.Sizes == nil {
		return s
	}
	raw, err := json.Marshal(struct {
		Catalog string
		Habits  catalog.Habits
		Shed    []catalog.Leftover
	}{p.Shop.Catalog.ID, p.Shop.Habits, p.Shop.Shed})
	if err != nil {
		return s
	}
	return sizesOf{p.Shop.Sizes, raw}
}

// of returns what a design came to, or works it out.
func (s sizesOf) of(d design.Design, work func() (sized, error)) (sized, error) {
	if s.memo == nil {
		return work()
	}
	raw, err := json.Marshal(d)
	if err != nil {
		return work()
	}
	h := sha256.New()
	h.Write(s.shop)
	h.Write(raw)
	var key sizeKey
	h.Sum(key[:0])
	if v, ok := s.memo.get(key); ok {
		return v, nil
	}
	v, err := work()
	if err == nil {
		s.memo.put(key, v)
	}
	return v, err
}

func (m *Sizes) get(key sizeKey) (sized, bool) {
	m.mu.Lock()
	defer m.mu.Unlock()
	v, ok := m.now[key]
	if !ok {
		if v, ok = m.before[key]; ok {
			m.add(key, v)
		}
	}
	return v, ok
}

func (m *Sizes) put(key sizeKey, v sized) {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.add(key, v)
}

func (m *Sizes) add(key sizeKey, v sized) {
	if m.now == nil || len(m.now) >= mostSizes {
		m.now, m.before = map[sizeKey]sized{}, m.now
	}
	m.now[key] = v
}

// Forget lets go of all of them.
func (m *Sizes) Forget() {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.now, m.before = nil, nil
}
