// Package long says how much of a long random test is run: a fixed tenth, or all of it
// where CHAMFER_LONG is set, as "make long" does.
package long

import "os"

// Whole reports whether long tests run whole.
func Whole() bool { return os.Getenv("CHAMFER_LONG") != "" }

// Of is how many of n cases to run: n, or a tenth of them, at least one.
func Of(n int) int {
	if Whole() {
		return n
	}
	return max(1, n/10)
}
