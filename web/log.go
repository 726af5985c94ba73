package web

import (
	"chamfer/core/plan"
	"chamfer/core/words"
	"chamfer/draw"
	"chamfer/store"
	"context"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
)

// logStage lists every change, and the way back.
var logStage = stage{Key: "log", Name: "Log", About: "Every change, and the way back",
	Body: func(ctx context.Context, s *Server, b *benchPage, no refused) (any, error) {
		list, err := s.store.History(ctx, b.ID, 200)
		if err != nil {
			return nil, err
		}
		took, err := s.takingsOf(ctx, b.ID)
		if err != nil {
			return nil, err
		}
		// Whose they were is told to the household.
		body := logBody{Entries: logEntries(list, b.Rev, b.Plan.Shop.Speech()), Record: b.recorded(took)}
		if body.Used, err = s.used(ctx, b, no); err != nil {
			return nil, err
		}
		body.Photos, err = s.photosOf(ctx, b, "")
		return body, err
	}}

type logBody struct {
	Entries []logEntry
	Record  *recordView // what steps took; nil where nothing was written down
	Used    *usedView
	Photos  []photoView
}

// latest is how many changes are in sight at once.
const latest = 12

// Latest are the changes that are in sight, Earlier those behind a press.
func (l logBody) Latest() []logEntry  { return l.Entries[:min(latest, len(l.Entries))] }
func (l logBody) Earlier() []logEntry { return l.Entries[min(latest, len(l.Entries)):] }

type logEntry struct {
	ID    int64
	Label string
	By    string
	When  string
	Now   bool
}

// version draws a project as it stood at one of its revisions, in little.
func (s *Server) version(c *gin.Context) {
	p, shop, ok := s.project(c)
	if !ok {
		return
	}
	rev, _ := strconv.ParseInt(strings.TrimSuffix(c.Param("rev"), ".svg"), 10, 64)
	d, err := s.store.Revision(asked(c), p.ID, rev)
	if err != nil {
		s.fault(c, http.StatusNotFound, "There is no such version.", "The Log has all of them.")
		return
	}
	if d.Region != p.Design.Region {
		if shop, _, err = s.shopFor(asked(c), p.Household, d.Region, p.ID); err != nil {
			s.trouble(c, err)
			return
		}
	}
	var pl *plan.Plan
	if err := planned(func() (err error) { pl, err = plan.Outline(d, shop); return err }); err != nil {
		s.fault(c, http.StatusNotFound, "That version cannot be drawn.", "Go back to it, and it says what is wrong.")
		return
	}
	sheet := draw.Sheet{W: 160, H: 96, Font: 10, Plain: true, Own: true}
	drawing := draw.Plot(pl, sheet)
	if len(pl.Frames) == 1 {
		drawing = draw.Bed(pl, "", draw.Solid, sheet)
	}
	c.Header("Cache-Control", "private, max-age=86400") // it never changes
	c.Data(http.StatusOK, "image/svg+xml", []byte(drawing))
}

func logEntries(list []store.Revision, head int64, said words.Speech) []logEntry {
	var entries []logEntry
	for _, r := range list {
		when := r.Created
		if t, err := time.Parse(time.RFC3339, r.Created); err == nil {
			when = said.Moment(t)
		}
		entries = append(entries, logEntry{r.ID, r.Label, r.Name, when, r.ID == head})
	}
	return entries
}
