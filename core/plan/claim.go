package plan

import (
	"fmt"
	"slices"
	"strings"

	"chamfer/core/cutting"
	"chamfer/core/measure"
	"chamfer/core/money"
)

// Claim says what was shown of how a kind of board is bought and cut, and which cuts were
// considered, in a carpenter's words. Nothing is claimed of what cannot all be had.
func (c Cuts) Claim(cur money.Currency) string {
	a := c.Answer
	switch {
	case len(c.Request.Pieces) == 0:
		return "All of it is cut."
	case len(a.Unmet) > 0:
		return "Not all of it can be had: this is what the rest takes, and nothing is said of its being the cheapest."
	case !a.Proved:
		return fmt.Sprintf(
			"No way costs less than %s, of %s; this one may be up to %s above the least.",
			cur.Format(a.LowerBound),
			c.considered(),
			cur.Format(a.Cost-a.LowerBound),
		)
	}
	words := "No cheaper way exists, of " + c.considered() + "."
	// Of boards that are ripped not all ends of strips count among the leftovers.
	if a.Best && a.ShopCuts == 0 && !c.rips() {
		words = strings.TrimSuffix(words, ".") + "; and none leaves more of use."
	} else if slices.ContainsFunc(a.Boards, func(b cutting.Board) bool { return Owned(b.Stock.ID) }) {
		words += " What you own is opened as sparingly as was found; there may be a better way for that."
	}
	return words
}

// sheetWide is the width over which stock is a sheet.
const sheetWide = 300 * measure.Millimetre

// rips reports whether some pieces are ripped.
func (c Cuts) rips() bool {
	return slices.ContainsFunc(c.Request.Pieces, func(p cutting.Piece) bool { return p.Width > 0 })
}

// considered are the ways to cut that a claim is about.
func (c Cuts) considered() string {
	joined := slices.ContainsFunc(c.Request.Pieces, func(p cutting.Piece) bool { return p.Join != nil })
	switch {
	case slices.ContainsFunc(c.Request.Stock, func(s cutting.Stock) bool { return s.Width > sheetWide }):
		return "all ways to cut panels from sheets"
	case joined:
		return "all ways to crosscut the boards with joints where they help most"
	case c.rips():
		return "all ways to crosscut, rip what comes off into strips and crosscut those again, or to rip the" +
			" board first"
	}
	return "all ways to crosscut these boards"
}

// claim is what was shown of all boards together.
func (p *Plan) claim() string {
	bound, cost := money.Amount(0), money.Amount(0)
	for _, c := range p.Cuts {
		if len(c.Answer.Unmet) > 0 {
			return "Not all of it can be had; nothing is said of its being the cheapest."
		}
		bound, cost = bound+c.Answer.LowerBound, cost+c.Answer.Cost
	}
	if bound < cost {
		cur := p.Shop.Currency()
		return fmt.Sprintf(
			"No choice of boards costs less than %s; this one costs %s.",
			cur.Format(bound),
			cur.Format(cost),
		)
	}
	return "No cheaper choice of boards exists for the ways to cut that the cut sheet names."
}

// lacking says what of a kind cannot be had: how many pieces, what for and how long.
func (p *Plan) lacking(c Cuts, u cutting.Unmet) string {
	words := fmt.Sprintf("%d × %s %s", u.Quantity, u.Piece, c.Profile.Name)
	if i := slices.IndexFunc(c.Request.Pieces, func(q cutting.Piece) bool { return q.ID == u.Piece }); i >= 0 {
		words += ", " + p.Shop.Precision().Feet(c.Request.Pieces[i].Length)
	}
	return words
}
