package stream_test

import (
	"fmt"
	"path/filepath"
	"slices"
	"sync"
	"testing"

	"chamfer/store"
	"chamfer/stream"
)

// BenchmarkSave keeps changes of designs: in a file that is one's own, and through a log on one machine and on three,
// all in this process and on this disk; one after another, and by 16 at once at two files that share the log. Each
// writer has a project of its own.
func BenchmarkSave(b *testing.B) {
	for _, n := range []int{0, 1, 3} {
		for _, writers := range []int{1, 16} {
			name := fmt.Sprintf("log on %d machines, %d writers", n, writers)
			if n == 0 {
				name = fmt.Sprintf("own file, %d writers", writers)
			}
			b.Run(name, func(b *testing.B) { saves(b, n, writers) })
		}
	}
}

// machines starts those of a log.
func machines(b *testing.B, n int) []string {
	var addrs, routes []string
	for range n {
		addrs, routes = append(addrs, free(b)), append(routes, free(b))
	}
	for i := range addrs {
		node := stream.Node{Name: fmt.Sprint("n", i), Data: b.TempDir(), Addr: addrs[i], Log: quiet}
		if n > 1 {
			node.Route, node.Others = routes[i], slices.Concat(routes[:i], routes[i+1:])
		}
		stop, err := stream.Start(node)
		if err != nil {
			b.Fatal(err)
		}
		b.Cleanup(stop)
	}
	return addrs
}

// sharing is a new file that shares a log, or, where there is none, one of its own.
func sharing(b *testing.B, addrs []string) *store.Store {
	s, err := store.Open(filepath.Join(b.TempDir(), "beds.db"))
	if err != nil {
		b.Fatal(err)
	}
	b.Cleanup(func() { _ = s.Close() })
	if len(addrs) == 0 {
		return s
	}
	l, err := stream.Join(b.Context(), stream.Ask{Addresses: addrs, Copies: len(addrs), Log: quiet})
	if err != nil {
		b.Fatal(err)
	}
	b.Cleanup(l.Close)
	if err := s.Share(b.Context(), l, quiet); err != nil {
		b.Fatal(err)
	}
	return s
}

func saves(b *testing.B, n, writers int) {
	addrs := machines(b, n)
	list := []*store.Store{sharing(b, addrs)}
	if n > 0 && writers > 1 {
		list = append(list, sharing(b, addrs))
	}
	d := bed(b, "a bed")
	var wait sync.WaitGroup
	ids := make([]int64, writers)
	for i := range writers {
		var err error
		if ids[i], err = list[i%len(list)].Create(store.Home, d, "begun", store.Kept{}); err != nil {
			b.Fatal(err)
		}
	}
	b.ResetTimer()
	for i := range writers {
		s, id, d := list[i%len(list)], ids[i], bed(b, "a bed")
		wait.Go(func() {
			for n := range (b.N + writers - 1) / writers {
				h, err := s.Standing(b.Context(), id)
				if err == nil {
					d.Name = fmt.Sprint("a bed ", n)
					err = s.Save(id, h.Head, d, "renamed", store.Kept{})
				}
				if err != nil {
					b.Error(err)
					return
				}
			}
		})
	}
	wait.Wait()
}

// BenchmarkAppend is what the engine takes by itself, of pieces as large as an edit's: 16 at once, each of a subject of
// its own, on three machines in this process.
func BenchmarkAppend(b *testing.B) {
	addrs := machines(b, 3)
	l, err := stream.Join(b.Context(), stream.Ask{Addresses: addrs, Copies: 3, Log: quiet})
	if err != nil {
		b.Fatal(err)
	}
	b.Cleanup(l.Close)
	const writers = 16
	b.ResetTimer()
	var wait sync.WaitGroup
	for i := range writers {
		wait.Go(func() {
			after := uint64(0)
			for n := range (b.N + writers - 1) / writers {
				var err error
				after, err = l.Append(b.Context(), fmt.Sprintf("%d-%d", i, n), []store.Piece{{Subject: fmt.Sprint("b.", i),
					After: after, Body: make([]byte, 800)}})
				if err != nil {
					b.Error(err)
					return
				}
			}
		})
	}
	wait.Wait()
}

// BenchmarkCatchUp is how fast a file that comes anew takes others' edits, each of a design, from a log on one machine.
func BenchmarkCatchUp(b *testing.B) {
	addrs := machines(b, 1)
	from := sharing(b, addrs)
	id, err := from.Create(store.Home, bed(b, "a bed"), "begun", store.Kept{})
	if err != nil {
		b.Fatal(err)
	}
	d := bed(b, "a bed")
	for n := range b.N {
		h, err := from.Standing(b.Context(), id)
		if err == nil {
			d.Name = fmt.Sprint("a bed ", n)
			err = from.Save(id, h.Head, d, "renamed", store.Kept{})
		}
		if err != nil {
			b.Fatal(err)
		}
	}
	b.ResetTimer()
	sharing(b, addrs) // it waits until all of it is there
}
