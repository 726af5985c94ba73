package aside

import (
	"errors"
	"fmt"
	"strings"
	"testing"
)

func ExampleDo() {
	squares := make([]int, 4)
	faults := Do(4, func(i int) {
		if i == 2 {
			panic("no such number")
		}
		squares[i] = i * i
	})
	fmt.Println(squares, faults[1], faults[2])
	// Output: [0 1 0 9] <nil> a fault of the program: no such number
}

// A fault inside a fault is told once, with the stack of where it began.
func TestFaultsPassOn(t *testing.T) {
	outer := Do(2, func(i int) {
		for _, err := range Do(2, func(k int) {
			if i == 1 && k == 0 {
				deep()
			}
		}) {
			if err != nil {
				panic(err)
			}
		}
	})
	var f *Fault
	if !errors.As(outer[1], &f) || outer[0] != nil || !strings.Contains(string(f.Stack), "aside.deep") {
		t.Errorf("faults are %v, with the stack\n%s", outer, f.Stack)
	}
	if faults := Do(100, func(int) {}); faults != nil {
		t.Errorf("work without a fault has %v", faults)
	}
}

func deep() { panic("deep") }
