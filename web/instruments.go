package web

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/terrain"
	"chamfer/core/water"
	"chamfer/instrument"
)

// Instruments are the addresses of those that are plugged in, "" for none.
type Instruments struct{ Level, Timer, Probe, Station, Supplier string }

// Read tells the server which instruments there are.
func (s *Server) Read(i Instruments) { s.reads = i }

// readTime is how long reading an instrument may take.
const readTime = 40 * time.Second

// sightView is the form by which the level is read.
type sightView struct {
	Peg, Right, Out, Sight, Error string
	Sights                        []design.Choice
}

var sights = []design.Choice{{Value: "back", Label: "back, to a peg that is known"},
	{Value: "between", Label: "between"}, {Value: "fore", Label: "fore, the last from here"},
	{Value: "turn", Label: "back to the last peg, the level moved"}}

// sight is that form, with what was typed and refused.
func (b *benchPage) sight(s *Server, no refused) *sightView {
	if s.reads.Level == "" {
		return nil
	}
	v := &sightView{Peg: no.values["sight-peg"], Right: no.values["sight-right"], Out: no.values["sight-out"],
		Sight: no.values["sight"], Error: no.why("level"), Sights: sights}
	if v.Sight == "" {
		v.Sight = "back"
		if len(b.Plan.Survey.Runs) > 0 {
			v.Sight = "between"
		}
	}
	return v
}

// level reads the level and books what it sees as one more line.
func (s *Server) level(c *gin.Context) {
	p, shop, ok := s.project(c)
	if !ok {
		return
	}
	form := c.Request.PostForm
	typed := map[string]string{}
	for _, key := range []string{"sight-peg", "sight-right", "sight-out", "sight"} {
		typed[key] = strings.TrimSpace(form.Get(key))
	}
	refuse := func(reason string) {
		typed["level"] = ""
		s.refuse(c, p, shop, s.where(c, p, form.Get), &design.Refusal{Field: "level", Reason: reason}, typed)
	}
	if s.reads.Level == "" {
		refuse("no level is plugged in: start Chamfer with --level and its address, or type what you read")
		return
	}
	x := terrain.Reading{Peg: typed["sight-peg"]}
	var right, out measure.Length
	for key, at := range map[string]**measure.Length{"sight-right": &x.Right, "sight-out": &x.Out} {
		if typed[key] == "" {
			continue
		}
		l, err := measure.Parse(typed[key], shop.Catalog.System)
		if err != nil {
			refuse(err.Error())
			return
		}
		*at = &l
	}
	if x.Right != nil && x.Out != nil {
		right, out = *x.Right, *x.Out
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), readTime)
	defer cancel()
	seen, err := instrument.Level(ctx, s.reads.Level, right, out)
	if err != nil {
		refuse("the level was not read: " + err.Error())
		return
	}
	staff := seen.Staff
	list := append([]terrain.Reading{}, p.Design.GroundOr().Readings...)
	switch last := len(list) - 1; typed["sight"] {
	case "back":
		x.Back = &staff
	case "fore":
		x.Fore = &staff
	case "turn":
		if last < 0 || list[last].Fore == nil {
			refuse("there is no fore sight to turn at: read the peg from the old place first")
			return
		}
		x, list = list[last], list[:last]
		x.Back = &staff
	default:
		x.Between = &staff
	}
	var text strings.Builder
	if err := design.WriteReadings(&text, append(list, x), shop.Catalog.System); err != nil {
		refuse(err.Error())
		return
	}
	form.Set("ground:readings", text.String())
	form.Set("was:ground:readings", "\x00")
	s.edit(c)
}

// garden sets the timer to what the beds need, or reads the probe.
func (s *Server) garden(c *gin.Context) {
	p, shop, ok := s.project(c)
	if !ok {
		return
	}
	w := s.where(c, p, c.PostForm)
	tell := func(notice string, err error) {
		no := refused{values: map[string]string{"timer": ""}, reasons: map[string]string{}}
		status := 200
		if err != nil {
			status, no.reasons["timer"] = 422, sentence(notice+err.Error())
		} else {
			no.notice = notice
		}
		s.showBench(c, status, p, shop, w, w.Since, no)
	}
	if c.PostForm("how") == "station" {
		s.station(c, p, func(notice string, err error) {
			no := refused{values: map[string]string{"calendar:forecast": design.ForecastText(p.Design.CalendarOr().Forecast)},
				reasons: map[string]string{"calendar:forecast": sentence(notice + err.Error())}}
			s.showBench(c, 422, p, shop, w, w.Since, no)
		})
		return
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), readTime)
	defer cancel()
	if c.PostForm("how") == "nights" {
		record, err := s.nights(ctx)
		if err != nil {
			s.showBench(c, 422, p, shop, w, w.Since, refused{values: map[string]string{},
				reasons: map[string]string{"nights": sentence("the station was not read: " + err.Error())}})
			return
		}
		c.Request.PostForm.Set("nights", record)
		s.edit(c)
		return
	}
	if c.PostForm("how") == "probe" {
		wet, err := instrument.Moisture(ctx, s.reads.Probe)
		switch {
		case err != nil:
			tell("the probe was not read: ", err)
		case wet < water.Dry:
			tell(fmt.Sprintf("The soil holds %.0f %% water: water it now.", wet), nil)
		default:
			tell(fmt.Sprintf("The soil holds %.0f %% water: it can wait.", wet), nil)
		}
		return
	}
	pl, ok := s.plan(c, p, shop)
	if !ok {
		return
	}
	if len(pl.Water.Zones) == 0 {
		tell("the timer was not set: ", errors.New("no bed is watered by drip lines yet; choose that first"))
		return
	}
	z, first := pl.Water.Zones[0], pl.Water.Runs()[0]
	prog := instrument.Program{Start: fmt.Sprintf("%02d:%02d", first.Start/60, first.Start%60), Minutes: first.Minutes,
		Starts: z.Starts, Days: pl.Water.Weekdays()}
	if err := instrument.SetTimer(ctx, s.reads.Timer, prog); err != nil {
		tell("the timer was not set: ", err)
		return
	}
	said := fmt.Sprintf("The timer is set: %d min at %s on %s.", prog.Minutes, prog.Start, strings.Join(prog.Days, ", "))
	if len(pl.Water.Zones) > 1 {
		said += " That is group 1; the others have timers of their own, to be set by hand."
	}
	tell(said, nil)
}

// nightYears are how many whole years a station is asked for.
const nightYears = 10

// nights is the weather station's record of the last whole years' nights, as [planting.ReadNights] reads it.
func (s *Server) nights(ctx context.Context) (string, error) {
	if s.reads.Station == "" {
		return "", errors.New("no weather station is plugged in: start Chamfer with --station and its address")
	}
	to := time.Date(time.Now().Year(), time.January, 1, 0, 0, 0, 0, time.UTC)
	from := to.AddDate(-nightYears, 0, 0)
	lows, err := instrument.Nights(ctx, s.reads.Station, from, int(to.Sub(from).Hours()/24))
	if err != nil {
		return "", err
	}
	var text strings.Builder
	for n, low := range lows {
		fmt.Fprintf(&text, "%s,%.1f\n", from.AddDate(0, 0, n).Format(time.DateOnly), low)
	}
	return text.String(), nil
}
