// Package aside does pieces of work beside one another, and hands a panic in one of
// them to whoever asked for it. A panic on a goroutine that nothing recovers ends the
// whole program; here it costs one answer.
//
//	faults := aside.Do(3, func(i int) { ... })
//	faults[1] is a *Fault where the second of them panicked
package aside

import (
	"fmt"
	"runtime"
	"runtime/debug"
	"sync"
	"sync/atomic"
)

// Fault is a panic as an error: what was said, and where.
type Fault struct {
	Reason any
	Stack  []byte
}

func (f *Fault) Error() string { return fmt.Sprintf("a fault of the program: %v", f.Reason) }

// Catch does something and returns its panic as a [*Fault], nil where there was none. A
// Fault that is panicked with anew stays as it was.
func Catch(do func()) (err error) {
	defer func() {
		switch r := recover().(type) {
		case nil:
		case *Fault:
			err = r
		default:
			err = &Fault{Reason: r, Stack: debug.Stack()}
		}
	}()
	do()
	return nil
}

// Do does a number of things on all processors, each by its number, and waits for all.
// It returns nil where none panicked, otherwise each one's fault by its number.
func Do(n int, do func(i int)) []error {
	faults := make([]error, n)
	var any atomic.Bool
	var next atomic.Int64
	var wait sync.WaitGroup
	for range min(n, runtime.GOMAXPROCS(0)) {
		wait.Go(func() {
			for i := next.Add(1) - 1; i < int64(n); i = next.Add(1) - 1 {
				if faults[i] = Catch(func() { do(int(i)) }); faults[i] != nil {
					any.Store(true)
				}
			}
		})
	}
	wait.Wait()
	if !any.Load() {
		return nil
	}
	return faults
}
