package planting

import "math"

// Forbidden is a cost that no placing may take.
const Forbidden = math.MaxInt32

// Assign gives each row a column of its own so that the costs add up to least: the Hungarian method (Kuhn 1955, Munkres
// 1957) by shortest augmenting paths. There are no fewer columns than rows. U and v are its proof: c[i][j] >= u[i]
// + v[j]
// everywhere, with equality where x is, and v is 0 or less, 0 on columns that are left. It fails where rows share too
// few allowed columns.
func Assign(c [][]int) (x, u, v []int, ok bool) {
	n := len(c)
	if n == 0 {
		return nil, nil, nil, true
	}
	m := len(c[0])
	if n > m {
		return nil, nil, nil, false
	}
	pu, pv := make([]int, n+1), make([]int, m+1)
	row, way := make([]int, m+1), make([]int, m+1)
	for i := 1; i <= n; i++ {
		row[0] = i
		j0 := 0
		least, done := make([]int, m+1), make([]bool, m+1)
		for j := range least {
			least[j] = math.MaxInt
		}
		for row[j0] != 0 {
			done[j0] = true
			i0, delta, j1 := row[j0], math.MaxInt, -1
			for j := 1; j <= m; j++ {
				if done[j] {
					continue
				}
				if c[i0-1][j-1] < Forbidden {
					if cur := c[i0-1][j-1] - pu[i0] - pv[j]; cur < least[j] {
						least[j], way[j] = cur, j0
					}
				}
				if least[j] < delta {
					delta, j1 = least[j], j
				}
			}
			if j1 < 0 {
				return nil, nil, nil, false
			}
			for j := 0; j <= m; j++ {
				if done[j] {
					pu[row[j]] += delta
					pv[j] -= delta
				} else if least[j] < math.MaxInt {
					least[j] -= delta
				}
			}
			j0 = j1
		}
		for j0 != 0 {
			j1 := way[j0]
			row[j0] = row[j1]
			j0 = j1
		}
	}
	x = make([]int, n)
	for j := 1; j <= m; j++ {
		if row[j] > 0 {
			x[row[j]-1] = j - 1
		}
	}
	return x, pu[1:], pv[1:], true
}
