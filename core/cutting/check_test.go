package cutting

import (
	"cmp"
	"fmt"
	"slices"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// placed lists a board's blanks and what is cut from it otherwise, from left to right as it
// is told.
func placed(b Board) []Cut {
	var list []Cut
	for i, blank := range b.Blanks {
		list = append(list, Cut{Blank: i + 1, At: blank.At, Length: blank.Length})
	}
	for _, c := range b.Cuts {
		if c.Blank == 0 {
			list = append(list, c)
		}
	}
	slices.SortStableFunc(list, func(a, b Cut) int { return cmp.Compare(a.At, b.At) })
	return list
}

// checkBlanks holds what comes out of a board's blanks to them.
func checkBlanks(r Request, b Board, pieces map[string]Piece, rip measure.Length) error {
	for i, blank := range b.Blanks {
		across := measure.Length(0)
		for s, w := range blank.Strips {
			across += w + rip
			end := blank.At
			for _, c := range b.Cuts {
				if c.Blank != i+1 || c.Strip != s+1 {
					continue
				}
				if p := pieces[c.Piece]; c.Length != p.Length || w != p.Width || c.Width != w || c.Out != 1 {
					return fmt.Errorf("piece %s is cut %v of %v from a strip of %v", c.Piece, c.Length, c.Width, w)
				}
				if c.At < end || c.End() > blank.At+blank.Length {
					return fmt.Errorf("piece %s lies at %v in a blank of %v", c.Piece, c.At-blank.At, blank.Length)
				}
				end = c.End() + r.Kerf
			}
			if end == blank.At {
				return fmt.Errorf("strip %d of a blank is for nothing", s+1)
			}
		}
		if across > b.Stock.Width+rip {
			return fmt.Errorf("strips %v do not come out of %v", blank.Strips, b.Stock.Width)
		}
	}
	return nil
}

// check validates an answer against its request by the rules in docs/format.md,
// sharing no code with the solver: every piece once, inside what is usable of
// its board and a kerf from its neighbours, boards no more than there are, cost
// and offcuts right.
func check(r Request, a Answer) error {
	rip := r.RipKerf
	if rip == 0 {
		rip = r.Kerf
	}
	pieces := map[string]Piece{}
	for _, p := range r.Pieces {
		pieces[p.ID] = p
	}
	got := map[string]int{}
	used := map[string]int{}
	var cost money.Amount
	shopCuts := 0
	for _, b := range a.Boards {
		if len(b.Cuts) == 0 {
			return fmt.Errorf("board %s is bought for nothing", b.Stock.ID)
		}
		strips := b.Strips
		var across measure.Length
		for _, w := range strips {
			across += w + rip
		}
		if len(strips) > 0 && across > b.Stock.Width+rip {
			return fmt.Errorf("board %s: strips %v do not come out of %v", b.Stock.ID, strips, b.Stock.Width)
		}
		var longest measure.Length
		for strip := 0; strip <= len(strips); strip++ {
			if len(strips) > 0 && strip == 0 {
				continue
			}
			// What is usable, and the cuts in it from left to right.
			bad := append([]Span{{-measure.MaxLength, b.Stock.TrimStart}}, b.Stock.Defects...)
			bad = append(bad, Span{b.Stock.Length - b.Stock.TrimEnd, 2 * measure.MaxLength})
			if r.Shop != nil && b.Stock.Length > r.Shop.Carry && b.Stock.Quantity == Unlimited {
				parted := Span{b.Part, b.Part + r.Shop.Loss}
				if b.Part <= 0 || parted.From > r.Shop.Carry || b.Stock.Length-parted.To > r.Shop.Carry {
					return fmt.Errorf("board %s, parted at %v, does not fit the car", b.Stock.ID, b.Part)
				}
				bad = append(bad, parted)
				slices.SortStableFunc(bad, func(a, b Span) int { return cmp.Compare(a.From, b.From) })
			} else if b.Part != 0 {
				return fmt.Errorf("board %s is parted, and fits the car", b.Stock.ID)
			}
			for i := 0; i+1 < len(bad); i++ {
				from, to := bad[i].To, bad[i+1].From
				if to <= from {
					continue
				}
				end, blanks := from, map[measure.Length]Cut{}
				if err := checkBlanks(r, b, pieces, rip); err != nil {
					return err
				}
				for _, c := range placed(b) {
					p := pieces[c.Piece]
					if c.Blank > 0 {
						if strip > 0 || c.At < from || c.At >= to {
							continue
						}
						if c.At < end || c.At+c.Length > to {
							return fmt.Errorf(
								"board %s: a blank from %v to %v, free from %v to %v",
								b.Stock.ID,
								c.At,
								c.At+c.Length,
								end,
								to,
							)
						}
						end = c.At + c.Length + r.Kerf
						continue
					}
					if c.Strip != strip || c.At < from || c.At >= to {
						continue
					}
					if c.Turned {
						if !p.Turn {
							return fmt.Errorf("piece %s is turned against its grain", c.Piece)
						}
						p.Length, p.Width = p.Width, p.Length
					}
					if c.Length != p.Length {
						return fmt.Errorf("piece %s is cut %v long, not %v", c.Piece, c.Length, p.Length)
					}
					if same, shared := blanks[c.At]; shared && same.Length == c.Length {
						same.Out += c.Out
						blanks[c.At] = same
					} else {
						if c.At < end || c.At+c.Length > to {
							return fmt.Errorf("board %s: a piece from %v to %v, free from %v to %v", b.Stock.ID, c.At,
								c.At+c.Length, end, to)
						}
						blanks[c.At] = c
						end = c.At + c.Length + r.Kerf
					}
					narrow := p.Width > 0 && p.Width < b.Stock.Width
					switch {
					case strip > 0 && (p.Width > strips[strip-1] || p.Width < strips[strip-1] && b.Stock.Width < 12*in || c.Out > 1):
						return fmt.Errorf("piece %s, %v wide, from a strip of %v", c.Piece, p.Width, strips[strip-1])
					case strip == 0 && narrow && measure.Length(blanks[c.At].Out)*(p.Width+rip) > b.Stock.Width+rip:
						return fmt.Errorf("%d of %s from one width", blanks[c.At].Out, c.Piece)
					case !narrow && c.Out > 1:
						return fmt.Errorf("%d of %s from one length", c.Out, c.Piece)
					}
				}
				longest = max(longest, to-end)
			}
		}
		for _, c := range b.Cuts {
			got[c.Piece] += b.Count * max(1, c.Out)
		}
		if b.Offcut != max(0, longest) {
			return fmt.Errorf("board %s: offcut %v, want %v", b.Stock.ID, b.Offcut, longest)
		}
		if b.Part > 0 {
			shopCuts += b.Count
		}
		used[b.Stock.ID] += b.Count
		cost += b.Stock.Price * money.Amount(b.Count)
	}
	if r.Shop != nil {
		cost += r.Shop.Fee * money.Amount(max(0, shopCuts-r.Shop.Free))
	}
	for _, s := range r.Stock {
		if s.Quantity != Unlimited && used[s.ID] > s.Quantity {
			return fmt.Errorf("%d of %s used, there are %d", used[s.ID], s.ID, s.Quantity)
		}
	}
	for _, u := range a.Unmet {
		got[u.Piece] += u.Quantity
	}
	for _, p := range r.Pieces {
		if got[p.ID] != p.Quantity {
			return fmt.Errorf("piece %s: %d, want %d", p.ID, got[p.ID], p.Quantity)
		}
	}
	if cost != a.Cost || a.LowerBound > a.Cost || a.Proved != (a.Cost == a.LowerBound) && len(a.Unmet) == 0 {
		return fmt.Errorf("cost %v, bound %v, proved %v; the boards cost %v", a.Cost, a.LowerBound, a.Proved, cost)
	}
	return nil
}
