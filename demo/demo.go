// Package demo is an invented allotment to play with: Fennick Reach, a strip of
// plots between a brook and a lane, where a few neighbours build beds. Place,
// people and prices are made up.
package demo

import (
	"context"
	"fmt"
	"strings"
	"time"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/design"
	"chamfer/core/money"
	"chamfer/store"
)

// Designs returns the demo's projects, the first one of several beds, each with
// something waiting to be looked at.
func Designs() ([]design.Design, error) {
	var list []design.Design
	for _, p := range []struct {
		region, name string
		edits        []design.Edit
	}{
		// Hollin's beds of blocks: one to walk into, one round, one along the path, and
		// the bank behind in steps.
		{"us", "Hollin's blocks, plot 8", []design.Edit{
			{Field: "plot:width", Value: "24'"}, {Field: "plot:depth", Value: "20'"},
			{Field: "system", Value: "keyhole"}, {Bed: "b1", Field: "name", Value: "Keyhole"}, {Bed: "b1",
				Field: "soil", Value: "11 in"},
			{Field: "add-bed", Value: "ring"}, {Bed: "b2", Field: "name", Value: "Strawberry ring"}, {Bed: "b2",
				Field: "length", Value: "4'"}, {Bed: "b2", Field: "soil", Value: "9 in"},
			{Field: "add-bed", Value: "block-wall"}, {Bed: "b3", Field: "name", Value: "Path bed"}, {Bed: "b3",
				Field: "unit_cap", Value: "mitred"}, {Bed: "b3", Field: "soil", Value: "11 in"},
			{Field: "add-bed", Value: "terraces"}, {Bed: "b4", Field: "name", Value: "Bank"}, {Bed: "b4",
				Field: "corners_at", Value: "0 in; 2 in; 34 in; 30 in"},
		}},
		// The corner by the lane is Ottoline's and four neighbours': six beds of
		// four kinds round a barrow path, one of them to stand at.
		{"us", "The corner by the lane, Fennick Reach", []design.Edit{
			{Field: "plot:width", Value: "26'"}, {Field: "plot:depth", Value: "22'"}, {Field: "plot:north",
				Value: "20"},
			{Field: "plot:passage", Value: "barrow"}, {Field: "plot:fences", Value: "back left"},
			{Bed: "b1", Field: "name", Value: "Salad"}, {Field: "count", Value: "3"}, {Field: "length", Value: "8'"},
			{Field: "width", Value: "3'6\""},
			{Bed: "b1", Field: "grid", Value: "string"},
			{Bed: "b1", Field: "place:0", Value: "3';2'"}, {Bed: "b1", Field: "place:1", Value: "3';8'6\""}, {Bed: "b1",
				Field: "place:2", Value: "3';15'"},
			{Field: "add-bed", Value: "tiered"}, {Bed: "b2", Field: "name", Value: "Herbs"}, {Bed: "b2", Field: "cap",
				Value: "mitred"},
			{Bed: "b2", Field: "place:0", Value: "15';15'"},
			{Field: "add-bed", Value: "sleeper"}, {Bed: "b3", Field: "name", Value: "Beans"}, {Bed: "b3",
				Field: "trellis", Value: "wire"},
			{Bed: "b3", Field: "place:0", Value: "15';8'6\""},
			{Field: "add-bed", Value: "legged"}, {Bed: "b4", Field: "name", Value: "Ottoline's table"},
			{Bed: "b4", Field: "place:0", Value: "15';2'"},
			{Field: "ground:readings", Value: laneReadings}, {Bed: "b2", Field: "level:0", Value: "balanced"},
			{Bed: "b1", Field: "water", Value: "drip"}, {Bed: "b2", Field: "water", Value: "drip"},
			{Bed: "b3", Field: "water", Value: "drip"}, {Field: "water:tap", Value: "24';11'"},
			{Field: "calendar:start", Value: "2027-04-03"}, {Field: "calendar:people", Value: "2"},
			{Field: "calendar:away", Value: "2027-04-11"}, {Field: "calendar:brought", Value: "fri"},
			{Bed: "b3", Field: "filling", Value: "branches: 4 in; manure: 2 in; mix"},
		}},
		// Wren builds in feet and means to do without mid posts: the long sides
		// will bow.
		{"us", "Wren's bean bed, plot 14", []design.Edit{
			{Field: "length", Value: "7' 9\""}, {Field: "soil", Value: "13 in"},
			{Bed: "b1", Field: "name", Value: "Bean bed"}, {Field: "mid_posts", Value: "0"},
			{Field: "cap", Value: "mitred"}, {Field: "grass", Value: "strip"},
		}},
		// Tobin's bed of spruce stands against the hedge and is wider than an
		// arm.
		{"metric", "Tobin's salad bed, plot 3", []design.Edit{
			{Field: "species", Value: "spruce"}, {Field: "board", Value: "150x38"},
			{Bed: "b1", Field: "name", Value: "Salad bed"}, {Field: "length", Value: "2250"}, {Field: "width",
				Value: "900"},
			{Field: "soil", Value: "275"}, {Field: "access", Value: "one"}, {Field: "corners", Value: "pinwheel"},
		}},
	} {
		cat, err := catalog.ForRegion(p.region)
		if err != nil {
			return nil, err
		}
		d := design.New(cat, p.name)
		if d, err = design.Apply(d, cat, p.edits...); err != nil {
			return nil, fmt.Errorf("demo %s: %w", p.name, err)
		}
		list = append(list, d)
	}
	return list, nil
}

// laneReadings are levels of the corner by the lane, read from two places of the level.
const laneReadings = `peg,right,out,back,between,fore
Gatepost,0,0,58 1/2 in,,
By the lane,13 ft,0,,56 3/4 in,
Lane corner,26 ft,0,,54 1/4 in,
Salad,3 ft,2 ft,,57 3/4 in,
Middle,13 ft,9 ft,,52 3/8 in,
Hollow,5 ft,12 ft,,55 1/8 in,
Water butt,24 ft,11 ft,61 1/4 in,,48 1/2 in
Back left,0,22 ft,,63 7/8 in,
Back middle,14 ft,22 ft,,58 in,
Back right,26 ft,22 ft,,54 5/8 in,
Gatepost,,,,,71 3/8 in
`

// Fill puts the demo's projects into a store that has none, and marks it as a demo's,
// which may be started afresh.
func Fill(s *store.Store) error {
	have, err := s.List(context.Background(), store.Scope{Household: store.Home}, store.After{}, "", 1)
	if err != nil || len(have) > 0 {
		return err
	}
	gone, err := s.DeletedProjects(context.Background(), store.Scope{Household: store.Home}, store.After{}, 1)
	if err != nil || len(gone) > 0 {
		return err
	}
	list, err := Designs()
	if err != nil {
		return err
	}
	for i := len(list) - 1; i >= 0; i-- {
		if _, err := s.Create(store.Home, list[i], "started", store.Kept{}); err != nil {
			return err
		}
	}
	if err := fillBook(s, time.Now()); err != nil {
		return err
	}
	return s.MarkDemo()
}

// fillBook writes down what three invented shops asked: a yard that has timber and is the cheaper for it, a store that
// has nearly everything and is dearer, and the supplier, which has not been asked yet.
func fillBook(s *store.Store, now time.Time) error {
	for _, cat := range catalog.Regions() {
		for _, x := range []cost.Shop{{Name: "Lowfield Yard", Fee: 6_50}, {Name: "Hill Stores", Fee: 4_00},
			{Name: "Brook Lane Supply", Brings: true, Fee: 19_00, Feed: true}} {
			if _, err := s.PutShop(store.Home, cat.ID, x); err != nil {
				return err
			}
		}
		var list []cost.Priced
		for i, w := range cat.Wares() {
			seen := func(shop string, per, left, days int) {
				list = append(list, cost.Priced{At: shop, Quote: cost.Quote{SKU: w.SKU,
					Price: w.Price * money.Amount(per) / 100, Left: left, Seen: now.AddDate(0, 0, -days).Format(time.DateOnly)}})
			}
			if timber := strings.HasPrefix(w.Of, "timber/"); timber && i%4 != 1 {
				seen("Lowfield Yard", 92+i%5, catalog.Plenty, 41)
				if seen("Lowfield Yard", 95+i%7, catalog.Plenty, 12); i%6 == 0 {
					seen("Lowfield Yard", 94, 2+i%3, 3)
				}
			} else if !timber && i%5 == 0 {
				seen("Lowfield Yard", 105, catalog.Plenty, 12)
			}
			seen("Hill Stores", 98+i%11, catalog.Plenty, 5+i%3)
		}
		if err := s.NotePrices(store.Home, cat.ID, list); err != nil {
			return err
		}
	}
	return nil
}
