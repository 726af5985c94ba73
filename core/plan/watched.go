package plan

import (
	"context"
	"sync/atomic"

	"chamfer/core/aside"
)

// Watch tells how far a search is: so many of so many beds tried.
type Watch struct{ done, all atomic.Int64 }

// Tried is how many were tried, of how many that are known to be.
func (w *Watch) Tried() (done, all int) { return int(w.done.Load()), int(w.all.Load()) }

type watchKey struct{}

// Watched has searches for this context told of.
func Watched(ctx context.Context, w *Watch) context.Context {
	return context.WithValue(ctx, watchKey{}, w)
}

type wayKey struct{}

// MakingWay has trials for this context call do before each, which may wait: for something more urgent, say.
func MakingWay(ctx context.Context, do func()) context.Context {
	return context.WithValue(ctx, wayKey{}, do)
}

// tried does a number of trials beside one another, counts them for whoever watches, and makes way before each.
func tried(ctx context.Context, n int, do func(i int)) []error {
	w, _ := ctx.Value(watchKey{}).(*Watch)
	way, _ := ctx.Value(wayKey{}).(func())
	if w != nil {
		w.all.Add(int64(n))
	}
	return aside.Do(n, func(i int) {
		if way != nil {
			way()
		}
		if w != nil {
			defer w.done.Add(1)
		}
		do(i)
	})
}
