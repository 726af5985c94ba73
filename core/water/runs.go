package water

// Dry is the moisture, per cent of volume, under which a bed of loam is watered: half of what it holds
// between field capacity and wilting (common practice).
const Dry = 20.0

// Dawn is when the first run begins, in minutes after midnight: before the sun takes any of it.
const Dawn = 6 * 60

// Run is one start of a group: when on its days, in minutes after midnight, and for how long.
type Run struct{ Zone, Start, Minutes int }

// Runs are those of a day: one group after the other, so that no two share the tap; then those that
// start twice once more, an hour after their first has ended at the earliest.
func (p Plan) Runs() (list []Run) {
	at := Dawn
	ended := make([]int, len(p.Zones))
	for pass := 1; ; pass++ {
		again := false
		for k, z := range p.Zones {
			if z.Starts < pass {
				continue
			}
			again = true
			if pass > 1 {
				at = max(at, ended[k]+60)
			}
			list = append(list, Run{k, at, z.Round()})
			at += z.Round()
			ended[k] = at
		}
		if !again {
			return list
		}
	}
}

// Weekdays on which is watered, as many as are wanted spread over the week, as calendars write them.
func (p Plan) Weekdays() (list []string) {
	days := []string{"MO", "TU", "WE", "TH", "FR", "SA", "SU"}
	for k := range p.Days {
		list = append(list, days[k*len(days)/p.Days])
	}
	return list
}
