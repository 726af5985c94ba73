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
// The least price is found by a linear program over all ways to cut a board,
// whose ways are found as they are needed, and a search over what it leaves
// open; small jobs are walked through whole. Whatever is claimed as a bound is
// reckoned in whole numbers.
package cutting

import (
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
	MaxJoined   = 200 // pieces that may be joined
)

// DefaultEffort is how much work is done before the solver gives up on proof,
// in the smallest steps it takes: about two seconds of a small machine. Work is
// counted rather than timed, so that the same request has the same answer
// everywhere.
const DefaultEffort = 2 * SecondsEffort

// SecondsEffort is about the work of one second of a small machine.
const SecondsEffort = 800_000_000

// Aim is what is looked for once the price is the least.
type Aim string

// The aims.
const (
	Leftovers Aim = "leftovers" // the most useful ones: a long one is worth more than the same length in crumbs
	Setups    Aim = "setups"    // the fewest different ways to cut a board
	Boards    Aim = "boards"    // the fewest boards
)

// UsualAims is the order in which they are looked at.
var UsualAims = []Aim{Leftovers, Setups, Boards}

// Unlimited is the Quantity of stock that the shop has plenty of.
const Unlimited = -1

// Stock is one length of board that can be had.
type Stock struct {
	ID       string
	Profile  string // pieces come only from stock of their own profile
	Length   measure.Length
	Price    money.Amount
	Quantity int  // boards there are, or Unlimited
	Shelf    bool // those that there are lie in the shop; else what there are so many of is at home
	Brought  bool // it is brought, and need not fit the car
	// Trim is unusable wood at each end; its saw cut is part of it.
	TrimStart, TrimEnd measure.Length
	Width              measure.Length // where pieces may be ripped from it
	// Defects are stretches inside the board that cannot be used, from the left
	// end, in order; the saw cuts at their edges are part of them.
	Defects []Span

	parted bool // by the shop, into what the car takes
}

// Home reports whether it need not be fetched.
func (s Stock) Home() bool { return s.Quantity != Unlimited && !s.Shelf }

// carried reports whether it has to fit the car.
func (s Stock) carried() bool { return !s.Home() && !s.Brought }

// Span is a stretch of a board, measured from its left end.
type Span struct{ From, To measure.Length }

// Usable returns the length between the trims.
func (s Stock) Usable() measure.Length { return s.Length - s.TrimStart - s.TrimEnd }

// Piece is a length that is needed.
type Piece struct {
	ID       string
	Profile  string
	Length   measure.Length
	Quantity int
	Width    measure.Length // ripped to it; 0 is the board's own
	Turn     bool           // it has no grain to follow: its length may lie across the sheet
	Join     *Join          // it may be made of shorter ones; nil: it may not
}

// Request is what is needed and what there is.
type Request struct {
	Kerf   measure.Length
	Keep   measure.Length // shortest leftover worth keeping; 300 mm where zero
	Stock  []Stock
	Pieces []Piece
	Effort int64 // how much work may be done; DefaultEffort where zero
	// RipKerf is what a rip cut takes; the kerf where zero. Only pieces with a
	// width are ripped.
	RipKerf measure.Length
	Shop    *ShopSaw // parts boards that do not fit the car; nil: they are carried whole
	Aims    []Aim    // after the price, in order; nil for the usual ones, empty for none
	// Like is a plan of a job much like this one, to start from.
	Like []Board
	// Progress is told the price of every better plan of a profile while it is
	// searched for; closing Stop ends the search with the best so far.
	Progress func(profile string, cost money.Amount)
	Stop     <-chan struct{}
}

// Cut is one piece cut from a board, in the order it comes off the saw.
type Cut struct {
	Piece  string
	Length measure.Length
	At     measure.Length // of its left end, from the board's left end with the tape left in place
	Blank  int            // of which of its board's Blanks, from 1; 0 for none
	Strip  int            // of a blank, or of a board that is ripped first: which strip, from 1
	Width  measure.Length // it is ripped to; 0 is the board's own
	Out    int            // pieces that are ripped from this blank side by side; 0 and 1 are one
	Turned bool           // its Length is the piece's width, its Width the piece's length
	Part   int            // of a piece that is joined: which, from its left end, from 1
}

// End is where the piece ends, from the board's left end.
func (c Cut) End() measure.Length { return c.At + c.Length }

// Wide is how wide the piece is: what it is ripped to, or all of the board's width.
func (c Cut) Wide(board measure.Length) measure.Length {
	if c.Width > 0 {
		return c.Width
	}
	return board
}

// Board is a way to cut a board, done Count times.
type Board struct {
	Stock  Stock
	Count  int
	Strips []measure.Length // widths it is ripped into over its whole length, before it is crosscut
	Blanks []Blank
	Cuts   []Cut
	Offcut measure.Length   // left of the usable length after the last saw cut; the longest where there are several
	Left   []measure.Length // of every run, where the board has several
	Part   measure.Length   // where the shop parts it, from the left end; 0 where it does not
}

// Blank is a length that is crosscut first and then ripped into strips of several widths,
// which are crosscut into pieces.
type Blank struct {
	At, Length measure.Length
	Strips     []measure.Length
}

func (b Blank) same(o Blank) bool {
	return b.At == o.At && b.Length == o.Length && slices.Equal(b.Strips, o.Strips)
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
	Best       bool         // and no plan of this cost leaves more that is useful, where that is the first aim
	Boards     []Board
	Unmet      []Unmet
	ShopCuts   int      // boards the shop parts; what they cost is in Cost
	Considered []string // ways to cut that the bound is on, as [Request.considered] names them
	Joined     []Joined // the pieces that may be joined, each; what joints cost is in Cost
}

// Bought counts the boards of each stock ID.
func (a Answer) Bought() map[string]int {
	n := map[string]int{}
	for _, b := range a.Boards {
		n[b.Stock.ID] += b.Count
	}
	return n
}

// Count is how many boards there are in all.
func (a Answer) Count() int {
	n := 0
	for _, b := range a.Boards {
		n += b.Count
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
	if r.RipKerf < 0 || r.RipKerf > 50*measure.Millimetre {
		return bad("rip_kerf", "%v is not a saw's kerf; 0 to 50 mm works", r.RipKerf)
	}
	if s := r.Shop; s != nil &&
		(s.Carry <= 0 || s.Fee < 0 || s.Fee > money.Max || s.Free < 0 || s.Free > MaxQuantity || s.Loss < 0 ||
			s.Loss > 100*measure.Millimetre) {
		return bad(
			"shop",
			"a length the car takes, a fee and a number of free cuts from 0, and a loss of up to 100 mm work",
		)
	}
	if r.Keep < 0 {
		return bad("keep", "%v is no length worth keeping", r.Keep)
	}
	for i, a := range r.Aims {
		if !slices.Contains(UsualAims, a) || slices.Contains(r.Aims[:i], a) {
			return bad("aims", "%q is no aim, or stands twice; there is leftovers, setups, boards", a)
		}
	}
	if len(r.Pieces) == 0 {
		return bad("pieces", "there is nothing to cut")
	}
	if len(r.Pieces) > MaxKinds || len(r.Stock) > MaxKinds {
		return bad("pieces", "more than %d lines of pieces or stock", MaxKinds)
	}
	total, joined := 0, 0
	for i, p := range r.Pieces {
		field := fmt.Sprintf("pieces[%d]", i)
		switch {
		case p.Length <= 0:
			return bad(field+".length", "a piece needs a length above zero")
		case p.Length > measure.MaxLength:
			return bad(field+".length", "longer than 100 m")
		case p.Length < r.Kerf:
			return bad(field+".length", "%v is less than the saw cut takes, %v", p.Length, r.Kerf)
		case p.Quantity < 1 || p.Quantity > MaxQuantity:
			return bad(field+".quantity", "%d is not a number of pieces; 1 to %d works", p.Quantity, MaxQuantity)
		case p.Width < 0:
			return bad(field+".width", "%v is no width", p.Width)
		case p.Turn && p.Width == 0:
			return bad(field+".turn", "only a piece with a width can be turned")
		case p.Join != nil && (p.Width > 0 || p.Turn):
			return bad(field+".join", "a piece that is ripped is not joined")
		case p.Join != nil && (p.Join.Least <= 0 || p.Join.Least < r.Kerf || p.Join.Cost < 0 ||
			p.Join.Cost > money.Max || p.Join.Apart < 0 || p.Join.Step < 0):
			return bad(
				field+".join",
				"a shortest part above the kerf, a price of a joint and how far joints lie apart from 0 work",
			)
		}
		if total += p.Quantity; total > MaxPieces {
			return bad("pieces", "more than %d pieces in all", MaxPieces)
		}
		if p.Join == nil {
			continue
		}
		if joined += p.Quantity; joined > MaxJoined {
			return bad("pieces", "more than %d pieces that may be joined", MaxJoined)
		}
		for _, c := range p.Join.Clear {
			if c.From < 0 || c.To <= c.From {
				return bad(field+".join.clear", "%v to %v is no stretch of the piece", c.From, c.To)
			}
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
		case s.Width < 0:
			return bad(field+".width", "%v is no width", s.Width)
		}
		at := measure.Length(0)
		for _, d := range s.Defects {
			if d.From < at || d.To <= d.From || d.To > s.Length {
				return bad(
					field+".defects",
					"%v to %v is no stretch of the board after the one before it",
					d.From,
					d.To,
				)
			}
			at = d.To
		}
	}
	return nil
}

// Solve plans a request. It fails only on a [BadRequest]; pieces that cannot be
// had are listed as Unmet and the rest is planned all the same. The answer is
// the same for the same request, always, unless it was stopped.
func Solve(r Request) (Answer, error) {
	if err := r.Check(); err != nil {
		return Answer{}, err
	}
	if slices.ContainsFunc(r.Pieces, func(p Piece) bool { return p.Join != nil }) {
		return withJoins(r)
	}
	return cutOnly(r)
}

// cutOnly solves a request that joins nothing.
func cutOnly(r Request) (Answer, error) {
	if r.Shop != nil {
		return withShop(r)
	}
	return solve(r)
}

func solve(r Request) (Answer, error) {
	if r.Effort == 0 {
		r.Effort = DefaultEffort
	}
	if r.Keep == 0 {
		r.Keep = 300 * measure.Millimetre
	}
	if r.RipKerf == 0 {
		r.RipKerf = r.Kerf
	}
	if r.Aims == nil {
		r.Aims = UsualAims
	}
	a := Answer{Proved: true, Considered: r.considered(), Best: len(r.Aims) > 0 && r.Aims[0] == Leftovers}
	for _, profile := range profiles(r) {
		g := newGroup(r, profile)
		g.solve()
		a.Cost += g.cost
		a.LowerBound += g.bound
		a.Proved = a.Proved && g.cost == g.bound
		a.Best = a.Best && g.best
		a.Boards = append(a.Boards, g.boards...)
		a.Unmet = append(a.Unmet, g.unmet...)
	}
	return a, nil
}

// Ways to cut.
const (
	Crosscut = "crosscut"
	RipFirst = "rip, crosscut"
	Blanked  = "crosscut, rip, crosscut"
	Sheets   = "any cuts of a sheet"
)

// considered names the ways to cut that a request's bound is on.
func (r Request) considered() []string {
	ways := []string{Crosscut}
	if slices.ContainsFunc(r.Pieces, func(p Piece) bool { return p.Width > 0 }) {
		ways = append(ways, RipFirst, Blanked)
	}
	if slices.ContainsFunc(r.Stock, func(s Stock) bool { return s.Width > sheetWide }) {
		ways = append(ways, Sheets)
	}
	return ways
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
