package work

import "slices"

// Danger is a caution and the steps where it matters, in their order.
type Danger struct {
	Caution
	Steps []string // titles
	IDs   []string
}

// Dangers gathers the cautions of a job, each once, in the order of the steps.
func Dangers(steps []Step) []Danger {
	var list []Danger
	for _, s := range steps {
		for _, c := range s.Cautions {
			i := slices.IndexFunc(list, func(d Danger) bool { return d.Caution == c })
			if i < 0 {
				i = len(list)
				list = append(list, Danger{Caution: c})
			}
			if !slices.Contains(list[i].IDs, s.ID) {
				list[i].Steps, list[i].IDs = append(list[i].Steps, s.Title), append(list[i].IDs, s.ID)
			}
		}
	}
	return list
}

var deck = Caution{
	"A deck, balcony or roof has to carry this wet, for good. Ask its owner, and a licensed engineer, before it is" +
		" filled.",
	"Soil weighs as much as a crowd that never goes home; local codes say what such floors are built for.",
}
