package web

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"net/http"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/plan"
	"chamfer/core/review"
	"chamfer/draw"
	"chamfer/store"

	"github.com/gin-gonic/gin"
)

// admit plans a design before it is saved, and makes what is kept with it. What cannot
// be planned is not saved: it comes back as [design.Refusal]s, or as the fault that
// planning it brought about. That it reads back is seen to by the store.
func (s *Server) admit(d design.Design, shop plan.Shop) (*plan.Plan, store.Kept, error) {
	var pl *plan.Plan
	err := planned(func() (err error) { pl, err = plan.Make(d, shop); return err })
	if err != nil {
		return nil, store.Kept{}, err
	}
	return pl, keeps(pl), nil
}

// keeps is what is kept with a saved plan: its card, and the boards it counts on.
func keeps(pl *plan.Plan) store.Kept {
	raw, err := json.Marshal(newCard(pl))
	if err != nil {
		raw = nil // the list makes it anew
	}
	return store.Kept{Card: raw, Claims: counted(pl)}
}

// counted are the boards of the shed that a plan counts on, by number.
func counted(pl *plan.Plan) map[int64]int {
	_, taken := pl.Leaves()
	return taken
}

// cardBody is what the list shows of a project: figures and a small drawing.
type cardBody struct {
	Region string      `json:"region"`
	Size   string      `json:"size"`
	Total  string      `json:"total"`
	Open   int         `json:"open"` // findings to look at
	Beds   []cardOfBed `json:"beds"`
	Figure string      `json:"figure"`
}

type cardOfBed struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

func newCard(p *plan.Plan) cardBody {
	d, pr := p.Design, p.Shop.Precision()
	b := d.Beds[0]
	card := cardBody{Region: regionName(d.Region), Total: p.Shop.Currency().Format(p.Bill.Total)}
	card.Size = fmt.Sprintf("%s × %s, %s of soil", pr.Feet(b.Length), pr.Feet(b.Width), pr.Feet(b.Soil))
	sheet := draw.Sheet{W: 250, H: 150, Font: 12, Plain: true}
	times := len(p.Site.Stands) + p.Site.More
	if times == 1 {
		card.Figure = draw.Bed(p, "", draw.Solid, sheet)
	} else {
		card.Figure = draw.Plot(p, sheet)
	}
	var names []string
	for _, b := range d.Beds {
		card.Beds = append(card.Beds, cardOfBed{b.ID, b.Name})
		name := b.Name
		if b.Times() > 1 {
			name = fmt.Sprintf("%d × %s", b.Times(), b.Name)
		}
		names = append(names, name)
	}
	if times > 1 {
		if more := len(names) - 8; more > 0 {
			names = append(names[:8], fmt.Sprintf("%d more", more))
		}
		card.Size = fmt.Sprintf("%d beds: %s", times, strings.Join(names, ", "))
	}
	for _, f := range p.Findings {
		if !f.Kept && f.Severity != review.Note { // what is good to know is no doubt
			card.Open++
		}
	}
	return card
}

// asked is the context of a request's reads: a page that nobody waits for is not read for any
// more; what changes something is carried through.
func asked(c *gin.Context) context.Context {
	if c.Request.Method == http.MethodPost {
		return context.WithoutCancel(c.Request.Context())
	}
	return c.Request.Context()
}

// rekeep brings what is kept with a project's head up to date with its plan as it is
// shown: after an undo, with other habits, another shed. What is shown is reserved. A
// page is shown all the same where that cannot be written.
func (s *Server) rekeep(ctx context.Context, h store.Standing, pl *plan.Plan) {
	if h.Deleted != nil {
		return
	}
	claims, err := s.store.Claims(ctx, h.ID)
	if err != nil {
		s.log.Warn("claims", "project", h.ID, "err", err)
		return
	}
	card, err := s.store.Card(ctx, h.ID, h.Head)
	if err != nil {
		s.log.Warn("card", "project", h.ID, "err", err)
		return
	}
	kept := keeps(pl)
	if away, err := s.store.IsPutAway(ctx, h.ID); err != nil || away {
		kept.Claims = nil // what it took is gone from the shed, and it takes no more
	}
	if maps.Equal(claims, kept.Claims) && bytes.Equal(card, kept.Card) {
		return
	}
	if err := s.store.Keep(h.ID, h.Head, pl.Design.Name, kept); err != nil {
		s.log.Warn("keep", "project", h.ID, "err", err)
	}
}

// shopFor is a region's shop for a project: with its household's habits, and the shed
// less what other projects count on, which is told too.
func (s *Server) shopFor(ctx context.Context, household int64, region string, project int64) (plan.Shop, []store.Claim,
	error) {
	cat, err := catalog.ForRegion(region)
	if err != nil {
		return plan.Shop{}, nil, err
	}
	h, err := s.store.Habits(ctx, household, cat)
	if err != nil {
		return plan.Shop{}, nil, err
	}
	shed, err := s.store.Shed(ctx, household, region)
	if err != nil {
		return plan.Shop{}, nil, err
	}
	var claims []store.Claim
	if len(shed) > 0 {
		if claims, err = s.store.OthersClaims(ctx, project); err != nil {
			return plan.Shop{}, nil, err
		}
	}
	others := map[int64]int{}
	for _, c := range claims {
		others[c.Leftover] += c.Boards
	}
	var free []catalog.Leftover
	for _, l := range shed {
		if l.Quantity -= others[l.ID]; l.Quantity > 0 {
			free = append(free, l)
		}
	}
	return plan.Shop{Catalog: cat, Habits: h, Shed: free, Cut: &s.cut, Sizes: &s.sizes}, claims, nil
}
