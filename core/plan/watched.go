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

// tried does a number of trials beside one another, and counts them for whoever watches.
func tried(ctx context.Context, n int, do func(i int)) []error {
	w, _ := ctx.Value(watchKey{}).(*Watch)
	if w == nil {
		return aside.Do(n, do)
	}
	w.all.Add(int64(n))
	return aside.Do(n, func(i int) {
		defer w.done.Add(1)
		do(i)
	})
}
