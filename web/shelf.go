package web

import (
	"container/list"
	"sync"
)

// shelf keeps things for whoever asks again, bounded by about their bytes: those not asked for longest go first.
type shelf[K comparable, V any] struct {
	mu    sync.Mutex
	by    map[K]*list.Element
	order list.List // of shelved, the newest first
	bytes int
}

type shelved[K comparable, V any] struct {
	key    K
	value  V
	weight int
}

// get returns what is kept under a key, where it is fit.
func (s *shelf[K, V]) get(key K, fit func(V) bool) (v V, ok bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	e, ok := s.by[key]
	if !ok {
		return v, false
	}
	if kept := e.Value.(shelved[K, V]).value; fit(kept) {
		s.order.MoveToFront(e)
		return kept, true
	}
	return v, false
}

// put keeps something that takes so many bytes, of so many at most; may, where it is not nil, is asked first.
func (s *shelf[K, V]) put(key K, v V, weight, most int, may func() bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if may != nil && !may() {
		return
	}
	if s.by == nil {
		s.by = map[K]*list.Element{}
	}
	if e, ok := s.by[key]; ok {
		s.drop(e)
	}
	s.by[key] = s.order.PushFront(shelved[K, V]{key, v, weight})
	for s.bytes += weight; s.bytes > most && s.order.Len() > 1; {
		s.drop(s.order.Back())
	}
}

// held is about how many bytes there are.
func (s *shelf[K, V]) held() float64 {
	s.mu.Lock()
	defer s.mu.Unlock()
	return float64(s.bytes)
}

func (s *shelf[K, V]) drop(e *list.Element) {
	old := s.order.Remove(e).(shelved[K, V])
	delete(s.by, old.key)
	s.bytes -= old.weight
}

// clear lets go of everything; then, where it is not nil, is done before anybody keeps more.
func (s *shelf[K, V]) clear(then func()) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.by, s.bytes = nil, 0
	s.order.Init()
	if then != nil {
		then()
	}
}
