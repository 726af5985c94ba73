package strength

import (
	"cmp"
	"slices"
)

// Gathered is a path with links between like pieces told once, each kind at its worst, the
// worst first; kind says what a piece is. Links that carry nothing are left out.
func Gathered(links []Link, path Path, kind func(id string) string) []Link {
	type alike struct {
		from, to string
		way      Way
	}
	at := map[alike]int{}
	var list []Link
	for _, l := range links {
		if l.Path != path || l.Load <= 0 {
			continue
		}
		k := alike{kind(l.From), kind(l.To), l.Way}
		i, ok := at[k]
		switch {
		case !ok:
			at[k] = len(list)
			list = append(list, l)
		case l.Ratio() > list[i].Ratio():
			list[i] = l
		}
	}
	slices.SortStableFunc(list, func(a, b Link) int { return cmp.Compare(b.Ratio(), a.Ratio()) })
	return list
}

// AllPaths are the paths, in the order they are told.
var AllPaths = []Path{OnFloor, OnSide, OnEnd, Seated, Wind}

// Paths are the paths that links lie on, in that order.
func Paths(links []Link) []Path {
	var list []Path
	for _, p := range AllPaths {
		if slices.ContainsFunc(links, func(l Link) bool { return l.Path == p && l.Load > 0 }) {
			list = append(list, p)
		}
	}
	return list
}
