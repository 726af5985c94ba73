package web

import (
	"fmt"
	"net/url"
	"strconv"
	"strings"

	"chamfer/core/design"
	"chamfer/core/plan"
	"chamfer/core/planting"
	"chamfer/store"
)

// plantEdit reads the forms of what grows and of what stands round the plot; found is false where it is none of them.
func (s *Server) plantEdit(p store.Project, shop plan.Shop, bed *design.Bed, form url.Values, typed map[string]string) (
	edits []design.Edit, label string, found bool, err error,
) {
	one := func(field, value, label string) ([]design.Edit, string, bool, error) {
		typed[field] = value
		e := design.Edit{Bed: bed.ID, Field: field, Value: value}
		if strings.HasPrefix(field, "sky:") {
			e.Bed = ""
		}
		return []design.Edit{e}, said(label, ""), true, nil
	}
	joined := func(keys ...string) string {
		var parts []string
		for _, key := range keys {
			parts = append(parts, strings.ReplaceAll(strings.TrimSpace(form.Get(key)), ";", ","))
		}
		return strings.Join(parts, "; ")
	}
	switch {
	case form.Has("own-crop"):
		e, label := cropEdit(form)
		typed[e.Field] = e.Value
		return []design.Edit{e}, said(label, ""), true, nil
	case form.Has("crops-csv"):
		typed["crops"] = ""
		return []design.Edit{{Field: "crops", Value: form.Get("crops-csv")}}, "a table of crops taken in", true, nil
	case form.Has("nights"):
		typed["nights"] = form.Get("nights")
		sky, _ := p.Design.SkyOr(shop.Catalog)
		nights, err := planting.ReadNights(strings.NewReader(form.Get("nights")))
		if err != nil {
			return nil, "", true, &design.Refusal{Field: "nights", Reason: err.Error()}
		}
		f, err := planting.FrostOf(nights, design.Degrees(sky.Lat) < 0)
		if err != nil {
			return nil, "", true, &design.Refusal{Field: "nights", Reason: err.Error()}
		}
		delete(typed, "nights")
		return []design.Edit{{Field: "sky:last", Value: f.Last.Format("01-02")},
				{Field: "sky:first", Value: f.First.Format("01-02")}},
			fmt.Sprintf("frosts from %d years of nights, passed in one of %.0f", f.Years, 1/f.Risk), true, nil
	case form.Has("tall"):
		n, _ := strconv.Atoi(form.Get("tall"))
		field, what := "sky:tall", joined("tall-kind", "tall-x", "tall-y", "tall-wide", "tall-deep", "tall-high", "tall-up")
		if n >= 0 {
			field = fmt.Sprintf("sky:tall.%d", n)
		}
		if form.Get("tall-gone") != "" {
			return one(field, "", "one thing that threw a shadow is gone")
		}
		return one(field, what, "what throws a shadow: "+form.Get("tall-kind"))
	case form.Get("lay") != "":
		now, err := plan.Outline(p.Design, shop)
		if err != nil {
			return nil, "", true, err
		}
		out, err := now.LayPlants(bed.ID, form.Get("folklore") != "")
		if err != nil {
			return nil, "", true, err
		}
		s.laid.Store(p.ID, out)
		return []design.Edit{out.Edit}, "plants laid out", true, nil
	case form.Get("again") != "":
		year, _ := strconv.Atoi(form.Get("again"))
		now, err := plan.Outline(p.Design, shop)
		if err != nil {
			return nil, "", true, err
		}
		edits, err := now.WantAgain(bed.ID, year)
		return edits, fmt.Sprintf("wanted again: what grew in %d", year), true, err
	case form.Has("want-crop") && form.Get("want-n") != "":
		return one("want:"+form.Get("want-crop"), form.Get("want-n"),
			"wanted: "+form.Get("want-n")+" of "+form.Get("want-crop"))
	case form.Has("add-crop"):
		return one("plant:add", joined("add-crop", "soil", "x", "y", "wide", "deep"), "planted: "+form.Get("add-crop"))
	case form.Has("patch"):
		n := form.Get("patch")
		switch how := form.Get("how"); how {
		case "rows", "cells":
			now, err := plan.Outline(p.Design, shop)
			if err != nil {
				return nil, "", true, err
			}
			e, err := now.Parted(bed.ID, n, how)
			return []design.Edit{e}, "planting " + n + " parted by " + how, true, err
		case "remove", "keep", "free":
			return one("plant:"+n, how, "planting "+n+": "+how)
		}
		edits, label, _, _ = one("plant:"+n, joined("soil", "x", "y", "wide", "deep"), "planting "+n+" moved")
		for _, day := range []string{"sown", "set"} {
			if on := day + "-on"; form.Has(on) && form.Get(on) != form.Get("was-"+on) {
				edits = append(edits, design.Edit{Bed: bed.ID, Field: "plant:" + n, Value: day + " " + form.Get(on)})
			}
		}
		if way := form.Get("way"); form.Has("way") {
			edits = append(edits, design.Edit{Bed: bed.ID, Field: "plant:" + n, Value: "how " + way})
		}
		return edits, label, true, nil
	case form.Get("shift-patch") != "":
		now, err := plan.Outline(p.Design, shop)
		if err != nil {
			return nil, "", true, err
		}
		n, by, _ := strings.Cut(form.Get("shift-patch"), ":")
		value, err := now.Shifted(bed.ID, n, by)
		if err != nil {
			return nil, "", true, &design.Refusal{Bed: bed.ID, Field: "plant:" + n, Value: by, Reason: err.Error()}
		}
		return one("plant:"+n, value, "planting "+n+" moved")
	}
	return nil, "", false, nil
}
