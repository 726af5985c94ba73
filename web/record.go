package web

import (
	"context"
	"fmt"
	"strings"

	"chamfer/core/record"
	"chamfer/core/schedule"
	"chamfer/store"
)

// recordView is what was written down of a job, against what was planned.
type recordView struct {
	Lines    []recordLine
	Learned  record.Learned
	Offer    string // thousandths to take, "" where that is what is counted on already
	Counted  string // what is counted on now
	Planned  string // of the steps that were written down, in all
	Took     string
	PerMille int
}

// recordLine is one step of it.
type recordLine struct {
	Number                           int
	Title, Link, Planned, Took, Note string
	Low, Wide, Is                    string // of its bars, per cent of the widest
}

// takingsOf is what was written down of the steps of a project.
func (s *Server) takingsOf(ctx context.Context, project int64) (list []record.Taking, err error) {
	kept, err := s.store.Takings(ctx, project)
	for _, t := range kept {
		list = append(list, record.Taking{Step: strings.TrimPrefix(t.Key, "step:"), Minutes: t.Minutes, People: t.People,
			Note: t.Note})
	}
	return list, err
}

// written are takings as they are kept.
func written(list []record.Taking) (kept []store.Taking) {
	for _, t := range list {
		kept = append(kept, store.Taking{Key: "step:" + t.Step, Minutes: t.Minutes, People: t.People, Note: t.Note})
	}
	return kept
}

// recorded is the record as the page tells it; nil where nothing was written down.
func (b *benchPage) recorded(list []record.Taking) *recordView {
	if len(list) == 0 {
		return nil
	}
	c := b.Plan.Design.CalendarOr()
	v := &recordView{Learned: record.Learn(b.Plan.Steps, list, c.Between())}
	widest, planned, took := 0.0, 0.0, 0
	for _, t := range list {
		for _, st := range b.Plan.Steps {
			if st.ID == t.Step {
				_, high := st.Minutes()
				widest = max(widest, high, float64(t.Minutes*t.People))
			}
		}
	}
	for i, st := range b.Plan.Steps {
		for _, t := range list {
			if t.Step != st.ID {
				continue
			}
			low, high := st.Minutes()
			per := func(m float64) string { return fmt.Sprintf("%.1f", 100*m/widest) }
			line := recordLine{Number: i + 1, Title: st.Title, Note: t.Note,
				Link:    b.Link("stage", "build", "step", st.ID) + "#step",
				Planned: schedule.Lasts(schedule.Tidy(low)) + " to " + schedule.Lasts(schedule.Tidy(high)),
				Low:     per(low), Wide: per(high - low), Took: "nothing said"}
			if t.Minutes > 0 {
				line.Took, line.Is = t.Text(), per(float64(t.Minutes*t.People))
				planned += low + c.Between()*(high-low)
				took += t.Minutes * t.People
			}
			v.Lines = append(v.Lines, line)
		}
	}
	v.Planned, v.Took = schedule.Lasts(schedule.Tidy(planned)), schedule.Lasts(took)
	v.PerMille = v.Learned.PerMille()
	v.Counted = fmt.Sprintf("%.2f", c.Factor())
	if now := int(1000*c.Factor() + 0.5); v.Learned.N > 0 && now != v.PerMille {
		v.Offer = fmt.Sprint(v.PerMille)
	}
	return v
}

// tookOf reads what was written down with a tick: nothing where the form says nothing of it.
func tookOf(step, took, note string, has bool) (list []store.Taking, err error) {
	if !has {
		return nil, nil
	}
	t := store.Taking{Key: "step:" + step, People: 1, Note: strings.TrimSpace(note)}
	if r := []rune(t.Note); len(r) > record.MostNote {
		return nil, fmt.Errorf("the note is %d letters long: up to %d are kept", len(r), record.MostNote)
	}
	if strings.TrimSpace(took) != "" {
		if t.Minutes, t.People, err = record.Read(took); err != nil {
			return nil, err
		}
	}
	return []store.Taking{t}, nil
}
