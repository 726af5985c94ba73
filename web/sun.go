package web

import (
	"context"
	"fmt"
	"html/template"
	"math"
	"strings"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/sun"
	"chamfer/draw"
)

// sunStage is where the sun goes over the plot, and what stands in its way.
var sunStage = stage{Key: "sun", Name: "Sun", About: "How much of it, and what stands in its way", Decides: true,
	Draws: (*benchPage).sunDrawing, Under: "under-sun", Caption: "the plot in the sun", Saves: "sun.svg",
	Body: func(_ context.Context, s *Server, b *benchPage, no refused) (any, error) {
		v := b.sunBody(no)
		v.Station = s.reads.Station != ""
		return v, nil
	}}

// sunView is one moment of the sun over the plot, and what a bed gets.
type sunView struct {
	Quarter, Month   int
	Clock, Stands    string // the time, and where the sun is then
	Rises, Of        string
	Months           []viewLink
	First, Last      int // quarters of an hour that the slider goes over
	Bed, Better, Why string
	Set              string // the edit that moves the bed there
}

type sunBody struct {
	Place, Frost []fieldView
	Said         bool
	Tall         []tallView
	New          tallView
	Kinds        []design.Choice
	Nights       string // as they were written, where they were refused
	NightsNo     string
	Station      bool // one is plugged in that kept the nights
}

type tallView struct {
	N                                int
	Kind, X, Y, Wide, Deep, High, Up string
	Name, Error                      string
}

const (
	sunColumns = 40 // cells of the map along the longer side of a plot
	noonish    = 15 * 4
	// wholeSeason stands where a month does for all that plants grow in.
	wholeSeason = 13
)

// sunDrawing draws the plot's hours of sun in a month, and the shadows of an hour of its middle.
func (b *benchPage) sunDrawing(refused) {
	l := b.Plan.Light()
	month, quarter := b.Month, b.Quarter
	season := month == wholeSeason
	if month < 1 || season {
		month = sun.Growing(l.Place.Lat)[1]
	}
	if quarter < 1 {
		quarter = noonish
	}
	on := sun.Date{Year: l.Year, Month: month, Day: 15}
	day := sun.Of(l.Place, on)
	at := sun.At(l.Place, on, float64(quarter)/4)
	things := l.Things(b.Plan, true)
	w, d := b.Plan.Site.Plot.Width, b.Plan.Site.Plot.Depth
	columns, rows := sunColumns, sunColumns
	if w > d {
		rows = max(4, int(sunColumns*float64(d)/float64(w)))
	} else {
		columns = max(4, int(sunColumns*float64(w)/float64(d)))
	}
	rays := l.Month(month)
	if season {
		rays = l.Growing()
	}
	m := b.Plan.SunMap(columns, rows, rays, l.Things(b.Plan, false))
	b.Wide = template.HTML(draw.Sunlit(b.Plan, m, l, at, things, draw.Sheet{W: 860, H: 470, Font: 17}))
	b.Narrow = template.HTML(draw.Sunlit(b.Plan, m, l, at, things, draw.Sheet{W: 360, H: 340, Font: 14}))
	v := &sunView{Quarter: quarter, Month: month, Clock: clockOf(float64(quarter) / 4)}
	v.First, v.Last = 4*4, 22*4
	switch pr := b.Plan.Shop.Precision(); {
	case at.Altitude <= 0:
		v.Stands = "the sun is below the horizon"
	default:
		fence := at.Shadow(float64(l.Sky.Fence))
		v.Stands = fmt.Sprintf("the sun stands %.0f° high in the %s; a fence of %s throws %s of shadow", at.Altitude,
			quarterOf(at.Azimuth), pr.Feet(l.Sky.Fence), pr.Feet(measure.Length(fence)))
	}
	switch {
	case day.Up:
		v.Rises = "the sun does not set"
	case day.Down:
		v.Rises = "the sun does not rise"
	default:
		v.Rises = fmt.Sprintf("up from %s to %s, %.1f hours", clockOf(day.Rise), clockOf(day.Set), day.Length())
	}
	for n, name := range strings.Fields("Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec") {
		v.Months = append(v.Months, viewLink{name, b.Link("month", fmt.Sprint(n+1)), n+1 == month && !season})
	}
	v.Months = append(v.Months, viewLink{"all season", b.Link("month", fmt.Sprint(wholeSeason)), season})
	if season {
		v.Month = wholeSeason
		v.Of = "The mean day of the months plants grow in; the hour is of its second, on the 15th: "
	} else {
		v.Of = "The 15th: "
	}
	b.sunnier(v, l, columns, rows)
	b.Sun = v
}

// sunnier says what the bed in hand gets, and where it would get more.
func (b *benchPage) sunnier(v *sunView, l plan.Light, columns, rows int) {
	bed, err := b.Plan.Design.Bed(b.Bed)
	if err != nil {
		return
	}
	s := b.Plan.Sunniest(b.Bed, b.Plan.SunMap(columns, rows, l.Growing(), l.Beside(b.Plan, b.Bed)))
	pr := b.Plan.Shop.Precision()
	v.Bed = fmt.Sprintf("%s gets %.1f hours of sun a day where it stands, on the mean day of the months plants grow in,"+
		" with what stands round the plot and the other beds in the way: %s.",
		bed.Name, s.Now, [4]string{"shade", "shade for most of the day", "part sun", "full sun"}[sun.Class(s.Now)])
	if !s.Some {
		v.Better = "Nowhere on the plot with room for it gets a twentieth more."
		return
	}
	v.Better = fmt.Sprintf("%s from the left and %s from the front%s it would get %.1f hours.", pr.Feet(s.At.U),
		pr.Feet(s.At.V), map[bool]string{true: ", turned,"}[s.Turn], s.Best)
	stand := b.Plan.Site.Stands
	for _, x := range stand {
		if x.Bed == b.Bed && x.N == 0 {
			turned := x.Turned != s.Turn
			v.Set = fmt.Sprintf("place:0=%s;%s;%s", s.At.U, s.At.V, map[bool]string{true: "turned", false: "straight"}[turned])
		}
	}
	v.Why = "What throws shadows there is farther off, or stands where the sun is seldom."
}

// clockOf writes an hour of the day.
func clockOf(hour float64) string {
	minutes := int(math.Round(hour*60)) % (24 * 60)
	if minutes < 0 {
		minutes += 24 * 60
	}
	return fmt.Sprintf("%d:%02d", minutes/60, minutes%60)
}

// quarterOf is the nearest of eight points of the compass.
func quarterOf(azimuth float64) string {
	return [8]string{"north", "north-east", "east", "south-east", "south", "south-west", "west",
		"north-west"}[int(azimuth/45+0.5)%8]
}

func (b *benchPage) sunBody(no refused) sunBody {
	cat, pr := b.Plan.Shop.Catalog, b.Plan.Shop.Precision()
	s, said := b.Plan.Design.SkyOr(cat)
	set := design.Sky{}
	if b.Plan.Design.Sky != nil {
		set = *b.Plan.Design.Sky
	}
	v := sunBody{Said: said, Kinds: design.TallKinds, New: tallView{N: -1}}
	text := func(key, label, value, help string) fieldView {
		f := fieldView{ID: "sky-" + key, Key: "sky:" + key, Label: label, Kind: design.TextField, Text: value, Help: help}
		no.fill(&f)
		return f
	}
	v.Place = []fieldView{text("lat", "Latitude", s.Lat, "Degrees north of the equator; 33.9 S, or -33.9, south of it."),
		text("lon", "Longitude", s.Lon, "Degrees east of Greenwich; 90.1 W, or -90.1, west of it."),
		text("zone", "Clocks ahead of universal time, hours", s.Zone, "With summer time, where it is kept."),
		text("variation", "A compass points east of north by, degrees", cmpOr(set.Variation, "0"),
			"Where north on the plot was read from a compass: maps and charts tell the variation; west of north is -."),
		text("fence", "Fences are so high", pr.Feet(s.Fence), "Those of the plot, on the Site page.")}
	v.Frost = []fieldView{text("last", "Last frost of spring", s.Last,
		"Month and day, like 05-15: later than that there was"+
			" frost in one year of two. Ask the weather service, or neighbours."),
		text("first", "First frost of autumn", s.First, "Month and day.")}
	v.Nights, v.NightsNo = no.values["nights"], no.why("nights")
	for n, t := range set.Tall {
		v.Tall = append(v.Tall, tallView{N: n, Kind: t.Kind, X: signed2(pr, measure.Length(t.X)), Y: signed2(pr,
			measure.Length(t.Y)), Wide: pr.Feet(t.Wide),
			Deep: pr.Feet(t.Deep), High: pr.Feet(t.High), Up: pr.Feet(t.Clear), Error: no.why(fmt.Sprintf("sky:tall.%d", n))})
		for _, k := range design.TallKinds {
			if k.Value == t.Kind {
				v.Tall[n].Name = k.Label
			}
		}
	}
	if typed, ok := no.values["sky:tall"]; ok {
		parts := append(strings.Split(typed, ";"), make([]string, 7)...)
		v.New = tallView{N: -1, Kind: parts[0], X: parts[1], Y: parts[2], Wide: parts[3], Deep: parts[4], High: parts[5],
			Up: parts[6], Error: no.why("sky:tall")}
	}
	return v
}

func signed2(pr measure.Precision, l measure.Length) string {
	if l < 0 {
		return "-" + pr.Feet(-l)
	}
	return pr.Feet(l)
}
