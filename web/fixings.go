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
	Draws: (*benchPage).bedDrawing,
	Body:  func(_ context.Context, _ *Server, b *benchPage, _ refused) (any, error) { return b.joints(), nil },
	Shows: "have:",
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
