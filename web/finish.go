package web

import (
	"html/template"

	"chamfer/core/measure"
	"chamfer/draw"
)

// finishStage is what is brushed on the timber.
var finishStage = stage{Key: "finish", Name: "Finish", About: "What is brushed on, and how often again", Decides: true,
	Tells: []string{}, Draws: (*benchPage).finishDrawing, Under: "under-finish", Caption: "as it will stand",
	Saves: "finish.svg"}

// canTold is one finish for all beds.
type canTold struct{ Name, Tins, Coats, Wait, Cure, Again string }

// finishDrawing draws the bed in hand as it is brushed.
func (b *benchPage) finishDrawing(refused) {
	s := b.sheet(true)
	s.Edit, s.Pick = "", ""
	b.Wide = template.HTML(draw.Finish(b.Plan, b.Bed, s))
	s = b.sheet(false)
	s.Edit, s.Pick = "", ""
	b.Narrow = template.HTML(draw.Finish(b.Plan, b.Bed, s))
	for _, c := range b.Plan.Finish.Cans {
		v := canTold{Name: c.About.Of, Coats: measure.Count(c.About.Coats, "coat"),
			Wait: measure.Count(c.About.Wait, "hour") + " between them", Cure: measure.Count(c.About.Cure, "day"),
			Again: measure.Count(c.About.Again, "month")}
		for i, t := range c.Tins {
			if i > 0 {
				v.Tins += ", "
			}
			v.Tins += measure.Count(t.Count, "tin") + " of " + t.Name
		}
		b.Cans = append(b.Cans, v)
	}
}
