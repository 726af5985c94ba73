package web

import (
	"chamfer/core/frame"
	"chamfer/draw"
	"context"
	"html/template"
	"strings"
)

// fixingsStage tells of screws, pilot holes and boxes.
var fixingsStage = stage{
	Key:   "fixings",
	Name:  "Fixings",
	About: "Screws, pilot holes, boxes",
	Draws: (*benchPage).headsDrawing,
	Body:  func(_ context.Context, _ *Server, b *benchPage, _ refused) (any, error) { return b.joints(), nil },
	Shows: "have:",
}

// headsDrawing is the bed with the heads of all fixings, from the front where nobody says otherwise: most are seen
// there.
func (b *benchPage) headsDrawing(no refused) {
	b.where.Heads = true
	if b.AnyView {
		b.where.View = draw.Front
	}
	b.bedDrawing(no)
}

type jointsBody struct{ Joints []jointView }

// jointView is how one kind of joint is made.
type jointView struct {
	Name    string
	Drawing template.HTML
	Words   []string
}

// joints draws how the joints of the bed in hand are made.
func (b *benchPage) joints() *jointsBody {
	pr := b.Plan.Shop.Precision()
	body := &jointsBody{}
	for _, d := range b.Plan.Fixings.Details([]frame.Frame{*b.frame()}, b.Plan.Shop.Catalog) {
		name := string(d.Kind)
		body.Joints = append(body.Joints, jointView{Name: strings.ToUpper(name[:1]) + name[1:], Words: d.Words(pr),
			Drawing: template.HTML(draw.Joint(d, pr, draw.Sheet{W: 420, H: 170, Font: 12.5}))})
	}
	if len(body.Joints) == 0 {
		return nil
	}
	return body
}
