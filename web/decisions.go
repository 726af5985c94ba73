package web

import (
	"cmp"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"chamfer/core/design"
)

// decisionsPage finds decisions of the bed in hand by a word, wherever they are taken: those
// it has, those it would have once something is added, and those of other ways to build it.
type decisionsPage struct {
	Title, Back, Name string
	ID                int64
	Bed, Find         string
	Beds              []viewLink
	Stages            []decisionStage
	Elsewhere         []elsewhere
}

type decisionStage struct {
	Name string
	List []decisionView
}

// decisionView is one decision, with what it says now and where it is taken.
type decisionView struct {
	Label, Now, Help, Link string
	Offers                 []string
}

// elsewhere is a decision that only other ways to build have.
type elsewhere struct{ Label, Of string }

func (s *Server) decisions(c *gin.Context) {
	p, b, ok := s.toPrint(c, "log")
	if !ok {
		return
	}
	bed, err := p.Design.Bed(b.Bed)
	if err != nil {
		s.trouble(c, err)
		return
	}
	page := decisionsPage{Title: "Find a decision", Name: p.Design.Name, Back: b.Link("stage", "bed"), ID: p.ID,
		Bed: bed.ID, Find: strings.TrimSpace(c.Query("q"))}
	for _, other := range p.Design.Beds {
		page.Beds = append(page.Beds, viewLink{other.Name,
			fmt.Sprintf("/p/%d/decisions?bed=%s", p.ID, other.ID), other.ID == bed.ID})
	}
	words := strings.Fields(strings.ToLower(page.Find))
	fits := func(texts ...string) bool {
		all := strings.ToLower(strings.Join(texts, " "))
		return !slices.ContainsFunc(words, func(w string) bool { return !strings.Contains(all, w) })
	}
	has := map[string]bool{}
	for _, st := range stages {
		group := decisionStage{Name: st.Name}
		for _, f := range design.FieldsOf(*bed) {
			if has[f.Label] = true; string(f.Stage) != st.Key || !f.Decides(b.Plan.Shop.Catalog, *bed) {
				continue
			}
			if v := b.decision(f, *bed); fits(append(v.Offers, v.Label, v.Help, f.Key)...) {
				group.List = append(group.List, v)
			}
		}
		if st.Key == "bed" {
			b.Outsides = nil
			b.outsides(refused{})
			for _, o := range b.Outsides {
				if fits(o.Label, "from outside") {
					group.List = append(group.List, decisionView{Label: o.Label, Now: o.Text, Help: o.Help,
						Link: b.Link("stage", "bed") + "#" + o.ID})
				}
			}
		}
		for _, f := range b.ofAll(st) {
			v := decisionView{Label: f.Label, Now: f.Text, Help: f.Help, Link: b.Link("stage", st.Key) + "#" + f.ID}
			for _, ch := range f.Choices {
				if v.Offers = append(v.Offers, ch.Label); ch.Checked {
					v.Now = ch.Label
				}
			}
			if fits(append(v.Offers, v.Label, v.Help, f.Key)...) {
				group.List = append(group.List, v)
			}
		}
		slices.SortStableFunc(group.List, func(a, b decisionView) int { // those that are called so first
			return cmp.Compare(missing(a.Label, words), missing(b.Label, words))
		})
		if len(group.List) > 0 {
			page.Stages = append(page.Stages, group)
		}
	}
	if len(words) > 0 {
		page.Elsewhere = others(*bed, has, fits)
	}
	s.show(c, http.StatusOK, "decisions.html", page)
}

// ofAll are the decisions of a stage that are the whole project's: its plot, its ground and its water.
func (b *benchPage) ofAll(st stage) []fieldView {
	switch st.Key {
	case siteStage.Key:
		b.plot(refused{})
		return b.Plot.Fields
	case groundStage.Key:
		b.groundFields(refused{})
		return b.Ground.Fields
	case waterStage.Key:
		b.waterFields(refused{})
		return b.Water.Fields
	}
	return nil
}

// missing is how many of some words a label has not.
func missing(label string, words []string) int {
	n := 0
	for _, w := range words {
		if !strings.Contains(strings.ToLower(label), w) {
			n++
		}
	}
	return n
}

// decision is what there is to say of one.
func (b *benchPage) decision(f design.Field, bed design.Bed) decisionView {
	v := decisionView{Label: f.Label, Now: f.Text(bed, b.Plan.Shop.Precision()), Help: f.Help,
		Link: b.Link("stage", string(f.Stage)) + "#f-" + f.Key}
	for _, ch := range f.Choices(b.Plan.Shop.Catalog, bed) {
		if ch.Value == v.Now {
			v.Now = ch.Label
		}
		v.Offers = append(v.Offers, ch.Label)
	}
	return v
}

// others are decisions that a bed has not, with the ways to build that have them.
func others(bed design.Bed, has map[string]bool, fits func(...string) bool) []elsewhere {
	var list []elsewhere
	for _, s := range design.Systems() {
		other := bed.Copied()
		other.System = s.Name
		for _, f := range design.FieldsOf(other) {
			if has[f.Label] || !fits(f.Label, f.Help, f.Key) {
				continue
			}
			i := slices.IndexFunc(list, func(e elsewhere) bool { return e.Label == f.Label })
			if i < 0 {
				list = append(list, elsewhere{f.Label, s.Title})
			} else {
				list[i].Of += ", " + s.Title
			}
		}
	}
	return list
}
