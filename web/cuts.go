package web

import (
	"cmp"
	"context"
	"fmt"
	"html/template"
	"slices"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/cutting"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/draw"
)

// cutsStage tells which boards to buy and how to cut them.
var cutsStage = stage{Key: "cuts", Name: "Cuts", About: "Which boards to buy and how to cut them",
	Body: func(ctx context.Context, s *Server, b *benchPage, no refused) (any, error) {
		body := b.cuts()
		for i := range body.Groups {
			body.Groups[i].Longer = s.longerView(b.Plan.Cuts[i], b.Plan.Shop.Currency())
		}
		var err error
		body.Shed, err = b.shedView(ctx, s, no)
		return body, err
	}}

type boardView struct {
	Count   int
	Label   string
	Wide    template.HTML
	Thin    template.HTML
	Cuts    []cutView
	Offcut  string
	Letters string
	Index   int    // of the plan's boards of its kind
	Next    string // the piece that is cut next
	Pieces  int
	Ripped  bool
	From    string // where it comes from, if it is not bought
}

type cutView struct {
	First                     string // what is cut off before it, where that is a blank
	Letter, Use, Length, Mark string
	Times                     int // how many of them follow one another
}

// whoseView is what goes into one of several beds.
type whoseView struct {
	Number int
	Name   string
	Pieces []pieceOf
}

type pieceOf struct {
	Letter, Use string
	Count, All  int // in the bed, in all of them
}

// Several says that other beds need such pieces too.
func (p pieceOf) Several() bool { return p.All > p.Count }

type cutsView struct {
	Name    string
	Boards  []boardView
	Cost    string
	Verdict string
	Unmet   []cutting.Unmet
	Lines   []lineView // what to buy
	Rounded bool
	Index   int
	Sawn    []sawnView
	Setups  []setupView
	Others  []otherView
	Fits    []otherView // where pieced sides had better be joined
	Absent  []lineView
	Longer  longerView
	Stamp   string // of the boards as they are planned here
}

type lineView struct {
	Count int
	Label string
	SKU   string
}

// otherView is another way to buy, and the pairs that choose it.
type otherView struct {
	Words, Effect string
	Set           []string
}

type cutsBody struct {
	Groups []cutsView
	Marked template.HTML // how a length is marked and sawn
	Whose  []whoseView   // where there are several beds
	Waste  int
	Kerf   string
	Carry  string
	Proved bool
	Shed   shedView
	Units  []unitsView
	// Some of them are cut, so that there is dust.
	CutUnits bool
}

// unitsView is one unit of the shop with what is laid of it.
type unitsView struct {
	ID, Name, Cost, Mass string
	Buy                  int
	Why                  string
	Kinds                []string
}

// cuts is the cut sheet: what is bought, how every board is cut, and what the shop has
// otherwise.
func (b *benchPage) cuts() cutsBody {
	pr, cur := b.Plan.Shop.Precision(), b.Plan.Shop.Currency()
	body := cutsBody{
		Waste:  b.Plan.Waste(),
		Kerf:   b.Plan.Shop.Habits.Kerf.String(),
		Carry:  pr.Feet(b.Plan.Shop.Habits.Carry),
		Proved: true,
	}
	for _, c := range b.Plan.Laying.Units {
		v := unitsView{
			ID:   c.Unit.ID,
			Why:  c.Words(),
			Name: c.Unit.Name,
			Cost: cur.Format(c.Cost),
			Mass: b.P.Mass(c.Mass),
			Buy:  c.Buy,
		}
		for _, k := range c.Kinds {
			v.Kinds = append(v.Kinds, k.Words(pr))
		}
		body.CutUnits = body.CutUnits || c.Cut > 0
		body.Units = append(body.Units, v)
	}
	uses := b.uses()
	body.Whose = b.whose(uses)
	if len(b.Plan.Cuts) > 0 {
		body.Marked = template.HTML(draw.Marking(b.Plan.Shop.Habits.Kerf, pr))
	}
	var full measure.Length
	for _, c := range b.Plan.Cuts {
		for _, board := range c.Answer.Boards {
			full = max(full, board.Stock.Length)
		}
	}
	for k, c := range b.Plan.Cuts {
		g := cutsView{
			Name:    c.Profile.Name + ", " + c.Species.Name,
			Cost:    cur.Format(c.Answer.Cost),
			Unmet:   c.Answer.Unmet,
			Index:   k,
			Stamp:   c.Stamp(),
			Sawn:    b.sawn(c),
			Setups:  setups(c, full, pr),
			Verdict: c.Claim(cur),
		}
		body.Proved = body.Proved && c.Answer.Proved
		counts := c.Answer.Bought()
		label := map[string]string{}
		for _, o := range c.Offers {
			label[o.SKU] = o.Label
			if n := counts[o.SKU]; n > 0 && !plan.Owned(o.SKU) {
				long := pr.Feet(o.Length)
				if o.SKU != catalog.Base(o.SKU) { // as long from another shop, too
					if s, ok := b.Plan.Shop.Catalog.SaleOf(o.SKU); ok {
						long += catalog.From + s.At
					}
				}
				g.Lines = append(g.Lines, lineView{n, long, o.SKU})
			}
		}
		for i, board := range c.Answer.Boards {
			v := boardView{
				Count:  board.Count,
				Label:  pr.Feet(board.Stock.Length),
				Offcut: leftOver(pr, board.Offcut),
				Index:  i,
				Pieces: len(board.Cuts),
				Ripped: plan.Whole(board),
				Wide:   template.HTML(draw.Board(board, c.Request.Kerf, full, pr, 900)),
				Thin:   template.HTML(draw.Board(board, c.Request.Kerf, full, pr, 340)),
			}
			if board.Part > 0 {
				v.From = fmt.Sprintf("%s, cut at %s by the shop", v.Label, pr.Short(board.Part))
			}
			if plan.Owned(board.Stock.ID) {
				v.From = label[board.Stock.ID]
			}
			for n, cut := range board.Cuts {
				view := cutView{
					Letter: cut.Piece,
					Use:    uses[cut.Piece],
					Length: pr.Short(cut.Length),
					Mark:   pr.Short(cut.End()),
				}
				if cut.Width > 0 && cut.Width < board.Stock.Width {
					view.Length += " × " + pr.Short(cut.Width)
				}
				if cut.Blank > 0 {
					blank := board.Blanks[cut.Blank-1]
					view.Mark = pr.Short(cut.End() - blank.At)
					if n == 0 || board.Cuts[n-1].Blank != cut.Blank {
						view.First = fmt.Sprintf(
							"a blank of %s, mark at %s, ripped to %s; from it",
							pr.Short(blank.Length),
							pr.Short(blank.At+blank.Length),
							draw.Widths(blank.Strips, pr),
						)
					}
				}
				if cut.Out > 1 {
					view.Use += fmt.Sprintf(", ripped into %d", cut.Out)
				}
				if last := len(v.Cuts) - 1; last >= 0 && view.First == "" && v.Cuts[last].Letter == view.Letter &&
					v.Cuts[last].Length == view.Length && v.Cuts[last].Use == view.Use {
					v.Cuts[last].Mark += ", " + view.Mark
					v.Cuts[last].Times++
				} else {
					view.Times = 1
					v.Cuts = append(v.Cuts, view)
				}
				if n == 0 {
					v.Next = cut.Piece + " " + view.Length
				}
				g.Rounded = g.Rounded || !pr.Exact(cut.Length)
			}
			g.Boards = append(g.Boards, v)
		}
		for _, o := range b.Plan.Others(c) {
			v := otherView{Words: o.Words, Effect: cur.Format(o.More) + " more"}
			switch {
			case o.Boards == 1 || o.Boards == -1:
				v.Effect += fmt.Sprintf(", %s board", signed(o.Boards))
			case o.Boards != 0:
				v.Effect += fmt.Sprintf(", %s boards", signed(o.Boards))
			}
			for _, sku := range o.Without {
				v.Set = append(v.Set, ">without:"+sku+"=yes")
			}
			g.Others = append(g.Others, v)
		}
		for _, f := range b.Plan.FitJoints(c) {
			v := otherView{
				Words:  "Join the sides of " + f.Name + " for what there is",
				Effect: cur.Format(f.More),
				Set:    []string{f.Edit.Bed + ">" + f.Edit.Field + "=" + f.Edit.Value},
			}
			if f.Joints != 0 {
				v.Effect += fmt.Sprintf(", %s joints", signed(f.Joints))
			}
			g.Fits = append(g.Fits, v)
		}
		for _, o := range c.Absent {
			g.Absent = append(g.Absent, lineView{Label: o.Label, SKU: o.SKU})
		}
		body.Groups = append(body.Groups, g)
	}
	return body
}

// leftOver is what is left of a board, "" where that is nothing.
func leftOver(p measure.Precision, l measure.Length) string {
	if p.Round(l) == 0 {
		return ""
	}
	return p.Short(l)
}

// uses says what each letter is, for reading.
func (b *benchPage) uses() map[string]string {
	uses := map[string]string{}
	for i := range b.Plan.Frames {
		for _, p := range b.Plan.Frames[i].Parts {
			word := string(p.Kind)
			if p.Course > 0 && !strings.HasSuffix(word, "board") {
				word += " board"
			}
			if ends := p.EndWords(); ends != "" {
				word += " (" + ends + ")"
			}
			if !strings.Contains(uses[p.Letter], word) {
				if uses[p.Letter] != "" {
					word = uses[p.Letter] + ", " + word
				}
				uses[p.Letter] = word
			}
		}
	}
	return uses
}

// whose says how many of each letter go into each bed, where there are several.
func (b *benchPage) whose(uses map[string]string) []whoseView {
	if len(b.Plan.Frames) == 1 {
		return nil
	}
	var list []whoseView
	all := map[string]int{}
	for i := range b.Plan.Frames {
		f := &b.Plan.Frames[i]
		v := whoseView{Number: i + 1, Name: f.Name}
		for _, p := range f.Parts {
			k := slices.IndexFunc(v.Pieces, func(o pieceOf) bool { return o.Letter == p.Letter })
			if k < 0 {
				k = len(v.Pieces)
				v.Pieces = append(v.Pieces, pieceOf{Letter: p.Letter, Use: uses[p.Letter]})
			}
			v.Pieces[k].Count += f.Times
			all[p.Letter] += f.Times
		}
		slices.SortFunc(v.Pieces, func(x, y pieceOf) int {
			return cmp.Or(cmp.Compare(len(x.Letter), len(y.Letter)), cmp.Compare(x.Letter, y.Letter))
		})
		if len(v.Pieces) > 0 {
			list = append(list, v)
		}
	}
	for _, v := range list {
		for k := range v.Pieces {
			v.Pieces[k].All = all[v.Pieces[k].Letter]
		}
	}
	return list
}
