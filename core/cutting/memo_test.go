package cutting

import (
	"fmt"
	"runtime"
	"strings"
	"testing"

	"chamfer/core/measure"
)

// What a memo remembers takes no more than it says, as the runtime counts it, however
// much it is asked: answers of all sizes, some larger than all of it.
func TestMemoIsBounded(t *testing.T) {
	answer := func(i, boards int) Answer {
		a := Answer{}
		for b := range boards {
			board := Board{Stock: Stock{ID: fmt.Sprint("stock ", b), Profile: "2x6"}, Count: 1}
			for c := range 6 {
				board.Cuts = append(board.Cuts, Cut{Piece: fmt.Sprint(i, "/", b, "/", c), Length: measure.Length(c)})
			}
			a.Boards = append(a.Boards, board)
		}
		return a
	}
	heap := func() uint64 {
		var m runtime.MemStats
		runtime.GC()
		runtime.ReadMemStats(&m)
		return m.HeapAlloc
	}
	var m Memo
	before, most := heap(), uint64(0)
	for i := range 1200 {
		boards := 1 + i*37%400
		m.keep(fmt.Sprint(strings.Repeat("k", i%500), i), answer(i, boards))
		m.Recall(Found{Job: fmt.Sprint("job ", i), Answer: answer(i, 1+i*53%200)})
		if a, f := m.Bytes(); a > MemoBytes || f > FoundBytes || a < 0 || f < 0 {
			t.Fatalf("after %d: %d and %d bytes", i, a, f)
		}
		if i%200 == 199 {
			most = max(most, heap()-before)
		}
	}
	if bound := uint64(MemoBytes + FoundBytes); most > bound*3/2 {
		t.Errorf("%d MB are taken, and %d MB are said", most>>20, bound>>20)
	}
	if _, ok := m.Searched(Request{}); ok || len(m.found) != len(m.jobs) || len(m.found) == 1200 {
		t.Errorf("%d findings, %d jobs", len(m.found), len(m.jobs))
	}
	if m.keep("huge", answer(0, 300_000)); m.bytes > MemoBytes {
		t.Errorf("an answer larger than all is kept: %d", m.bytes)
	}
}
