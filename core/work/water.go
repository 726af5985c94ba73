package work

import (
	"fmt"

	"chamfer/core/measure"
)

// drink is why a vacuum breaker is no extra.
var drink = Caution{"Put the vacuum breaker on the tap before anything else, higher than the line, and leave it there.",
	"When the main loses pressure it sucks back what stands in the bed; plumbing codes ask for it, and local ones come" +
		" first."}

// pipes brings water to the beds before they are filled.
func (w *writer) pipes() {
	if !w.Water.Drip {
		return
	}
	s := Step{ID: "water-pipe", Phase: Lead, Title: "Bring the pipe to the beds",
		Have:     []string{"pipe cutter or knife", "spade"},
		Cautions: []Caution{dig}}
	for _, x := range w.Water.Parts {
		switch x.Fitting.ID {
		case "drip-pipe":
			s.use(Use{Item: x.Fitting.ID, Length: x.Length})
			s.Have = append(s.Have, x.Fitting.Name)
		case "drip-elbow", "drip-tee":
			s.use(Use{Item: x.Fitting.ID, Count: x.Count})
			s.Have = append(s.Have, measure.Count(x.Count, "piece")+" of "+x.Fitting.Name)
		}
	}
	s.chore("pipe", w.Water.Main.Metres())
	s.Do = append(s.Do, fmt.Sprintf("Lay %s of pipe from the tap along the paths, a spade's depth down where a barrow"+
		" goes over it.", w.p.Feet(w.Water.Main)))
	for _, b := range w.Water.Beds {
		if b.By == "drip" {
			s.Do = append(s.Do, fmt.Sprintf("%s: under the wall and up its inside, to %s above the ground; close the end with"+
				" a bag until the lines go on.", b.Name, w.p.Short(b.Riser)))
		}
	}
	w.add(s)
}

// sprinkle sets up sprinklers, by tins.
func (w *writer) sprinkle() {
	s := Step{ID: "sprinkler", Phase: Drip, Title: "Set up the sprinkler",
		Have: []string{"five tins with straight sides", "a ruler"}}
	for _, x := range w.Water.Parts {
		if x.Fitting.ID == "sprinkler" {
			s.use(Use{Item: x.Fitting.ID, Count: x.Count})
			s.Have = append(s.Have, fmt.Sprintf("%d of %s", x.Count, x.Fitting.Name))
			s.chore("sprinkle", float64(x.Count))
		}
	}
	if len(s.Uses) == 0 {
		return
	}
	for _, b := range w.Water.Beds {
		if b.By == "sprinkler" {
			s.Do = append(s.Do, fmt.Sprintf("%s: run it until the tins hold %s on average, %d days a week in a dry midsummer,"+
				" and write down how long that took.", b.Name, w.p.Short(measure.Metres(b.Tin(w.Water.Days)/1000)), w.Water.Days))
		}
	}
	s.Do = append(s.Do, "Stand it so that it reaches every corner and little of the path; a tin in each corner and one in"+
		" the middle. Where one holds half of another, move it. At dawn: leaves dry before noon, and less is lost to wind.")
	w.add(s)
}

// drip lays the lines once the soil has settled.
func (w *writer) drip() {
	if !w.Water.Drip {
		return
	}
	s := Step{ID: "drip", Phase: Drip, Title: "Lay the drip lines",
		Have:     []string{"pipe cutter or knife", "a can of warm water"},
		Cautions: []Caution{drink}}
	for _, x := range w.Water.Parts {
		switch x.Fitting.ID {
		case "drip-pipe", "drip-elbow", "drip-tee", "sprinkler":
			continue
		}
		s.use(Use{Item: x.Fitting.ID, Count: x.Count, Length: x.Length})
		if x.Length > 0 {
			s.Have = append(s.Have, w.p.Feet(x.Length)+" of "+x.Fitting.Name)
		} else {
			s.Have = append(s.Have, fmt.Sprintf("%d of %s", x.Count, x.Fitting.Name))
		}
	}
	for _, b := range w.Water.Beds {
		if b.By != "drip" {
			continue
		}
		s.chore("drip", 1)
		name := b.Name
		if b.N > 0 {
			name = fmt.Sprintf("%s, number %d", name, b.N+1)
		}
		s.Do = append(s.Do, fmt.Sprintf("%s: %s, %s apart, from the head at its left end; %d emitters in all.", name,
			measure.Count(len(b.Lines), "line"), w.p.Short(b.Apart), b.Emitters))
	}
	s.Do = append(s.Do, "Warm the ends in hot water and push the fittings in to their stop. Flush the lines before the"+
		" ends are closed, and look along each once the water runs: every emitter drips.")
	for k, z := range w.Water.Zones {
		of := ""
		if len(w.Water.Zones) > 1 {
			of = fmt.Sprintf(" of group %d", k+1)
		}
		s.Do = append(s.Do, fmt.Sprintf("Set the timer%s to %d min, %s a day, %d days a week, at dawn.", of, z.Round(),
			measure.Count(z.Starts, "start"), w.Water.Days))
	}
	s.Do = append(s.Do, "Before the first frost shut the tap, take filter, regulator and timer in, and open every end so"+
		" that the lines drain.")
	w.add(s)
}
