// Package cutting decides which boards to buy and how to cut them, for the
// least money. Every cut eats a saw's width of wood, the kerf: pieces of
// l1..ln come out of one board when
//
//	l1 + ... + ln + (n-1) kerf  <=  U      U = length - trims
//
//	|trim|   piece   |k|   piece   |k|  piece  |k| offcut |trim|
//
// which is the same as pieces of l+kerf filling U+kerf. Everything is counted
// in whole nanometres and cents, so a plan said to be the cheapest is.
//
// The solver is exact wherever the work stays within its effort: it walks all
// ways to fill the board that takes the longest remaining piece, remembering
// every set of remaining pieces it has met. Past that it fills boards greedily,
// solves the last of them exactly, and says how far it may be from the least by
// a bound on the wood itself.
package cutting

import (
	"cmp"
	"fmt"
	"slices"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// Limits of one request.
const (
	MaxPieces   = 10_000 // in all
	MaxKinds    = 500    // lines of pieces or stock
	MaxQuantity = 10_000
)

// DefaultEffort is how many ways to fill a board are looked at before the
// solver gives up on proof. It takes some tens of milliseconds.
const DefaultEffort = 1_000_000

// Unlimited is the Quantity of stock that the shop has plenty of.
const Unlimited = -1

// Stock is one length of board that can be had.
type Stock struct {
	ID       string
	Profile  string // pieces come only from stock of their own profile
	Length   measure.Length
	Price    money.Amount
	Quantity int // boards there are, or Unlimited
	// Trim is unusable wood at each end; its saw cut is part of it.
	TrimStart, TrimEnd measure.Length
}

// Usable returns the length between the trims.
func (s Stock) Usable() measure.Length { return s.Length - s.TrimStart - s.TrimEnd }

// Piece is a length that is needed.
type Piece struct {
	ID       string
	Profile  string
	Length   measure.Length
	Quantity int
}

// Request is what is needed and what there is.
type Request struct {
	Kerf   measure.Length
	Keep   measure.Length // shortest leftover worth keeping; 300 mm where zero
	Stock  []Stock
	Pieces []Piece
	Effort int // ways to fill a board that may be tried; DefaultEffort where zero
}

// Cut is one piece cut from a board, in the order it comes off the saw.
type Cut struct {
	Piece  string
	Length measure.Length
}

// Board is a way to cut a board, done Count times.
type Board struct {
	Stock  Stock
	Count  int
	Cuts   []Cut
	Offcut measure.Length // left of the usable length after the last saw cut
}

// Marks returns where each piece ends, measured from the board's left end with
// the tape left in place: trim, pieces and the kerf after each.
func (b Board) Marks(kerf measure.Length) []measure.Length {
	at := b.Stock.TrimStart
	marks := make([]measure.Length, len(b.Cuts))
	for i, c := range b.Cuts {
		marks[i] = at + c.Length
		at = marks[i] + kerf
	}
	return marks
}

// Unmet is a piece that cannot be had, with the reason.
type Unmet struct {
	Piece    string
	Quantity int
	Reason   string
}

// Answer is a cutting plan.
type Answer struct {
	Cost       money.Amount
	LowerBound money.Amount // no plan that yields the met pieces costs less
	Proved     bool         // Cost equals LowerBound
	Boards     []Board
	Unmet      []Unmet
}

// Bought counts the boards of each stock ID.
func (a Answer) Bought() map[string]int {
	n := map[string]int{}
	for _, b := range a.Boards {
		n[b.Stock.ID] += b.Count
	}
	return n
}

// BadRequest names the field of a request that makes no sense, and the fault.
type BadRequest struct{ Field, Fault string }

func (e *BadRequest) Error() string { return e.Field + ": " + e.Fault }

// Check returns a [BadRequest] for the first field that makes no sense.
func (r Request) Check() error {
	bad := func(field, format string, args ...any) error {
		return &BadRequest{field, fmt.Sprintf(format, args...)}
	}
	if r.Kerf < 0 || r.Kerf > 50*measure.Millimetre {
		return bad("kerf", "%v is not a saw's kerf; 0 to 50 mm works", r.Kerf)
	}
	if len(r.Pieces) == 0 {
		return bad("pieces", "there is nothing to cut")
	}
	if len(r.Pieces) > MaxKinds || len(r.Stock) > MaxKinds {
		return bad("pieces", "more than %d lines of pieces or stock", MaxKinds)
	}
	total := 0
	for i, p := range r.Pieces {
		field := fmt.Sprintf("pieces[%d]", i)
		switch {
		case p.Length <= 0:
			return bad(field+".length", "a piece needs a length above zero")
		case p.Length > measure.MaxLength:
			return bad(field+".length", "longer than 100 m")
		case p.Quantity < 1 || p.Quantity > MaxQuantity:
			return bad(field+".quantity", "%d is not a number of pieces; 1 to %d works", p.Quantity, MaxQuantity)
		}
		if total += p.Quantity; total > MaxPieces {
			return bad("pieces", "more than %d pieces in all", MaxPieces)
		}
	}
	for i, s := range r.Stock {
		field := fmt.Sprintf("stock[%d]", i)
		switch {
		case s.Length <= 0 || s.Length > measure.MaxLength:
			return bad(field+".length", "%v is not a board's length; up to 100 m works", s.Length)
		case s.Price < 0 || s.Price > money.Max:
			return bad(field+".price", "%v is not a price", s.Price)
		case s.Quantity != Unlimited && (s.Quantity < 0 || s.Quantity > MaxQuantity):
			return bad(field+".quantity", "%d is not a number of boards; 0 to %d works", s.Quantity, MaxQuantity)
		case s.TrimStart < 0 || s.TrimEnd < 0 || s.Usable() <= 0:
			return bad(field+".trim", "the trims leave nothing of the board")
		}
	}
	return nil
}

// Solve plans a request. It fails only on a [BadRequest]; pieces that cannot be
// had are listed as Unmet and the rest is planned all the same. The answer is
// the same for the same request, always.
func Solve(r Request) (Answer, error) {
	if err := r.Check(); err != nil {
		return Answer{}, err
	}
	if r.Effort == 0 {
		r.Effort = DefaultEffort
	}
	if r.Keep == 0 {
		r.Keep = 300 * measure.Millimetre
	}
	a := Answer{Proved: true}
	for _, profile := range profiles(r) {
		g := newGroup(r, profile)
		g.solve()
		a.Cost += g.cost
		a.LowerBound += g.bound
		a.Proved = a.Proved && g.cost == g.bound
		a.Boards = append(a.Boards, g.boards...)
		a.Unmet = append(a.Unmet, g.unmet...)
	}
	return a, nil
}

// profiles lists the profiles asked for, in the order they are first named.
func profiles(r Request) []string {
	var names []string
	for _, p := range r.Pieces {
		if !slices.Contains(names, p.Profile) {
			names = append(names, p.Profile)
		}
	}
	return names
}

// kind is all pieces of one length, whoever asked for them.
type kind struct {
	length measure.Length
	size   int64 // length + kerf
	want   int
	names  []named // who asked, in order
}

type named struct {
	id       string
	quantity int
}

// group is the problem of one profile.
type group struct {
	kerf, keep measure.Length
	effort     int
	kinds      []kind // longest first
	stock      []Stock
	room       []int64 // usable + kerf, by stock
	cost       money.Amount
	bound      money.Amount
	boards     []Board
	unmet      []Unmet
}

func newGroup(r Request, profile string) *group {
	g := &group{kerf: r.Kerf, keep: r.Keep, effort: r.Effort}
	longest := measure.Length(0)
	for _, s := range r.Stock {
		if s.Profile == profile && s.Quantity != 0 {
			g.stock = append(g.stock, s)
			g.room = append(g.room, int64(s.Usable()+r.Kerf))
			longest = max(longest, s.Usable())
		}
	}
	for _, p := range r.Pieces {
		if p.Profile != profile {
			continue
		}
		if p.Length > longest {
			reason := fmt.Sprintf("there is no %s to cut it from", profile)
			if longest > 0 {
				reason = fmt.Sprintf("at %v it is longer than the longest %s there is, %v", p.Length, profile, longest)
			}
			g.unmet = append(g.unmet, Unmet{p.ID, p.Quantity, reason})
			continue
		}
		i := slices.IndexFunc(g.kinds, func(k kind) bool { return k.length == p.Length })
		if i < 0 {
			i = len(g.kinds)
			g.kinds = append(g.kinds, kind{length: p.Length, size: int64(p.Length + r.Kerf)})
		}
		g.kinds[i].want += p.Quantity
		g.kinds[i].names = append(g.kinds[i].names, named{p.ID, p.Quantity})
	}
	slices.SortStableFunc(g.kinds, func(a, b kind) int { return -cmp.Compare(a.length, b.length) })
	return g
}

func (g *group) solve() {
	if len(g.kinds) == 0 {
		return
	}
	want, have := make([]int, len(g.kinds)), make([]int, len(g.stock))
	for i, k := range g.kinds {
		want[i] = k.want
	}
	for i, s := range g.stock {
		have[i] = s.Quantity
	}
	if best, ok := exact(g, want, have, g.effort); ok {
		g.take(best)
		g.bound = g.cost
		return
	}
	fills, left := greedy(g, want, have)
	g.take(fills)
	short := false
	for i, n := range left {
		if n > 0 {
			short = true
			g.runOut(i, n)
		}
	}
	if short {
		return // what was left out might have cost anything: no bound is claimed
	}
	g.bound = min(g.woodBound(want, have), g.cost)
}

// runOut records n pieces of a kind as unmet, those asked for last first.
func (g *group) runOut(i, n int) {
	k := g.kinds[i]
	for j := len(k.names) - 1; j >= 0 && n > 0; j-- {
		m := min(n, k.names[j].quantity)
		g.unmet = append(g.unmet, Unmet{k.names[j].id, m, "the stock runs out"})
		n -= m
	}
}

// fill is one board cut: how many of each kind come out of it.
type fill struct {
	stock int
	takes []int
}

// left returns what remains of a fill's usable length after the last saw cut:
// every piece eats its length and a kerf, but no cut is made past the end.
func (g *group) left(f fill) measure.Length {
	room := g.room[f.stock]
	for i, n := range f.takes {
		room -= g.kinds[i].size * int64(n)
	}
	return max(0, measure.Length(room)-g.kerf)
}

// take turns fills into boards: alike boards together, pieces named, longest
// piece first.
func (g *group) take(fills []fill) {
	slices.SortStableFunc(fills, func(a, b fill) int {
		return cmp.Or(slices.Compare(b.takes, a.takes), cmp.Compare(a.stock, b.stock))
	})
	next := make([]struct{ name, used int }, len(g.kinds))
	for _, f := range fills {
		b := Board{Stock: g.stock[f.stock], Count: 1, Offcut: g.left(f)}
		for i, n := range f.takes {
			for range n {
				at := &next[i]
				if at.used == g.kinds[i].names[at.name].quantity {
					at.name, at.used = at.name+1, 0
				}
				at.used++
				b.Cuts = append(b.Cuts, Cut{g.kinds[i].names[at.name].id, g.kinds[i].length})
			}
		}
		g.cost += b.Stock.Price
		if last := len(g.boards) - 1; last >= 0 && g.boards[last].Stock == b.Stock && slices.Equal(g.boards[last].Cuts, b.Cuts) {
			g.boards[last].Count++
			continue
		}
		g.boards = append(g.boards, b)
	}
}
