package web

import (
	"chamfer/core/words"
	"chamfer/store"
	"context"
	"time"
)

// logStage lists every change, and the way back.
var logStage = stage{Key: "log", Name: "Log", About: "Every change, and the way back",
	Body: func(ctx context.Context, s *Server, b *benchPage, _ refused) (any, error) {
		list, err := s.store.History(ctx, b.ID, 200)
		if err != nil {
			return nil, err
		}
		took, err := s.takingsOf(ctx, b.ID)
		if err != nil {
			return nil, err
		}
		// Whose they were is told to the household.
		return logBody{logEntries(list, b.Rev, b.Plan.Shop.Speech()), b.recorded(took)}, nil
	}}

type logBody struct {
	Entries []logEntry
	Record  *recordView // what steps took; nil where nothing was written down
}

type logEntry struct {
	ID    int64
	Label string
	By    string
	When  string
	Now   bool
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
