package work

import (
	"fmt"
	"strings"

	"chamfer/core/measure"
)

var rags = Caution{"Lay oily rags out flat outdoors until they are stiff, or drown them in a closed metal can.",
	"Oil that dries gives off heat: a crumpled rag takes fire by itself, hours later."}

// finish brushes what shows outside.
func (w *writer) finish() {
	for _, c := range w.Finish.Cans {
		name, _, _ := strings.Cut(c.About.Name, ",")
		s := Step{ID: "finish-" + c.Of, Phase: Brush, Weather: []Weather{NoRain},
			Title: "Brush on the " + strings.ToLower(name),
			Have:  []string{"brush", "rags", "sandpaper, 120 grit"}}
		rest := c.Volume
		for _, t := range c.Tins {
			take := min(rest, t.Tin*measure.Volume(t.Count))
			rest -= take
			s.use(Use{Item: t.ID, Volume: take})
			s.Have = append(s.Have, fmt.Sprintf("%d of %s", t.Count, t.Name))
		}
		if c.About.Rags {
			s.Cautions = append(s.Cautions, rags)
		}
		s.chore("sand", (c.Faces + c.Ends).SquareMetres())
		s.chore("brush", (c.Faces+c.Ends).SquareMetres()*float64(c.About.Coats))
		if c.About.Coats > 1 {
			s.Rounds, s.Between = c.About.Coats, Waits()["coat"]
			s.Between.Low, s.Between.High = float64(c.About.Wait), float64(c.About.Wait)
		}
		var beds []string
		for _, b := range w.Finish.Beds {
			if b.Of == c.Of {
				s.beds = append(s.beds, b.Bed)
				beds = append(beds, b.Name)
			}
		}
		s.Do = append(s.Do,
			fmt.Sprintf("%s: sand the outside and break the sharp edges, and brush the dust off. The wood is dry, and no rain"+
				" comes for a day.", strings.Join(beds, ", ")),
			fmt.Sprintf("Brush %s on what shows outside, %s in all, first and most on end grain. The inside stays bare: food"+
				" grows there.", measure.Count(c.About.Coats, "coat"), w.sys.Area(c.Faces+c.Ends)))
		if c.About.Rags {
			s.Do = append(s.Do, "Wipe off what has not soaked in after a quarter of an hour: it stays sticky for weeks.")
		}
		s.Do = append(s.Do, fmt.Sprintf("Wait %s between coats, and %s before soil or crops touch it. Do it again"+
			" after about %s, when water no longer beads on it.", measure.Count(c.About.Wait, "hour"),
			measure.Count(c.About.Cure, "day"), measure.Count(c.About.Again, "month")))
		w.add(s)
	}
}
