package web

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/plan"
	"chamfer/core/record"
	"chamfer/people"
	"chamfer/store"
)

// usedView is what became of things, of sizes and of estimates.
type usedView struct {
	Things   []thingView
	Paid     string // of what was taken
	Planned  string
	Sunk     []sunkView
	Sizes    []sizeView
	Learnt   []learntView
	Cuts     string // of the saw, as typed
	Lost     string
	LostNo   string
	Anything bool // something is written down
}

type thingView struct {
	Item, ID, Name, Planned, Used, Taken, Paid, Unit string
	Left, LeftNo                                     string
	PlannedWide, UsedWide                            string // of its bars, per cent of the wider
	Known, More                                      bool
}

type sunkView struct{ Bed, Name, Text, No, Deep string }

type sizeView struct{ Key, What, Step, Planned, Measured, Off string }

type learntView struct {
	Key, Name, Why, Offer string
	New                   bool
}

// goodsOf are what became of things of a project.
func goodsOf(list []store.Good) (goods []record.Good) {
	for _, g := range list {
		r := record.Good{Item: g.Item, Name: g.Name, Unit: g.Unit, Packs: g.Packs, Lacked: g.Lacked, Left: g.Left,
			Need: g.Need, Had: g.Had}
		if g.Paid != nil {
			paid := money.Amount(*g.Paid)
			r.Paid = &paid
		}
		goods = append(goods, r)
	}
	return goods
}

func keptGoods(list []record.Good) (goods []store.Good) {
	for _, g := range list {
		r := store.Good{Item: g.Item, Name: g.Name, Unit: g.Unit, Packs: g.Packs, Lacked: g.Lacked, Left: g.Left,
			Need: g.Need, Had: g.Had}
		if g.Paid != nil {
			paid := int64(*g.Paid)
			r.Paid = &paid
		}
		goods = append(goods, r)
	}
	return goods
}

func sizesOf(list []store.Size) (sizes []record.Size) {
	for _, z := range list {
		sizes = append(sizes, record.Size{Key: z.Key, Planned: measure.Length(z.Planned),
			Measured: measure.Length(z.Measured)})
	}
	return sizes
}

func keptSizes(list []record.Size) (sizes []store.Size) {
	for _, z := range list {
		sizes = append(sizes, store.Size{Key: z.Key, Planned: int64(z.Planned), Measured: int64(z.Measured)})
	}
	return sizes
}

// used is what became of a project's things and what is learnt of all of the household's.
func (s *Server) used(ctx context.Context, b *benchPage, no refused) (*usedView, error) {
	kept, err := s.store.Goods(ctx, b.ID)
	if err != nil {
		return nil, err
	}
	measured, err := s.store.Sizes(ctx, b.ID)
	if err != nil {
		return nil, err
	}
	learnt, err := s.learns(ctx, b.Project.Household, b.Plan.Shop)
	if err != nil {
		return nil, err
	}
	goods, sizes := goodsOf(kept), sizesOf(measured)
	pr, cur := b.Plan.Shop.Precision(), b.Plan.Shop.Currency()
	v := &usedView{Anything: len(goods)+len(sizes) > 0, Cuts: cmpOr(no.values["kerf:cuts"], "5"),
		Lost: no.values["kerf:lost"], LostNo: sentence(no.why("kerf:lost"))}
	var paid money.Amount
	for _, r := range b.Plan.Record(goods) {
		if r.Bought+r.Owned == 0 {
			continue
		}
		t := thingView{Item: r.Item, ID: catalog.Slug(r.Item), Name: r.Name,
			Planned: r.Words(b.Plan, r.Balanced.Used), Known: r.Known, PlannedWide: fmt.Sprintf("%.1f", 100*r.Wide[0]),
			Unit:   map[string]string{"pieces": "pieces", "length": "a length"}[r.Unit],
			LeftNo: sentence(no.why("left:" + r.Item))}
		if t.Unit == "" {
			t.Unit = "packs of " + r.Words(b.Plan, r.Pack)
		}
		if r.Packs > 0 {
			t.Taken = strconv.Itoa(r.Packs)
		}
		if paid += r.Paid; r.Paid > 0 {
			t.Paid = cur.Format(r.Paid)
		}
		if r.Known {
			t.Used, t.UsedWide = r.Words(b.Plan, r.Really), fmt.Sprintf("%.1f", 100*r.Wide[1])
			t.Left, t.More = r.LeftText(b.Plan), r.Really > r.Balanced.Used
		}
		if typed, ok := no.values["left:"+r.Item]; ok {
			t.Left = typed
		}
		v.Things = append(v.Things, t)
	}
	if paid > 0 {
		v.Paid = cur.Format(paid)
	}
	v.Planned = cur.Format(b.Plan.Bill.Subtotal)
	for _, bed := range b.Plan.Design.Beds {
		z := sunkView{Bed: bed.ID, Name: bed.Name, Deep: pr.Short(b.Plan.Deep(bed.ID)),
			No: sentence(no.why(record.SunkKey + bed.ID))}
		for _, m := range sizes {
			if m.Key == record.SunkKey+bed.ID {
				z.Text = pr.Short(m.Measured)
			}
		}
		if typed, ok := no.values[record.SunkKey+bed.ID]; ok {
			z.Text = typed
		}
		v.Sunk = append(v.Sunk, z)
	}
	for _, m := range sizes {
		v.Sizes = append(v.Sizes, b.sized(m)...)
	}
	for _, e := range learnt {
		v.Learnt = append(v.Learnt, learntView{e.Key, e.Name, e.Why(), e.Offer(), e.New()})
	}
	return v, nil
}

// sized is a size of a step, or what cuts took, as it is told.
func (b *benchPage) sized(m record.Size) []sizeView {
	pr := b.Plan.Shop.Precision()
	z := sizeView{Key: m.Key, Measured: pr.Short(m.Measured)}
	if cuts, ok := strings.CutPrefix(m.Key, record.KerfKey); ok {
		z.What, z.Measured = cuts+" cuts took together", m.Measured.String()
		return []sizeView{z}
	}
	rest, ok := strings.CutPrefix(m.Key, record.StepKey)
	if !ok {
		return nil
	}
	step, what, _ := strings.Cut(rest, "|")
	z.What = what
	for i, st := range b.Plan.Steps {
		if st.ID == step {
			z.Step = fmt.Sprintf("%d %s", i+1, st.Title)
		}
	}
	if off := m.Measured - m.Planned; off != 0 {
		z.Planned = pr.Short(m.Planned)
		z.Off = pr.Short(max(off, -off)) + map[bool]string{true: " more", false: " less"}[off > 0]
	}
	return []sizeView{z}
}

// learns is what the records of a household make of its habits, in the region of a shop.
func (s *Server) learns(ctx context.Context, household int64, shop plan.Shop) ([]record.Estimate, error) {
	list, err := s.store.Standings(ctx, household)
	if err != nil {
		return nil, err
	}
	var goods []record.Good
	var sizes []record.Size
	var saw []design.Sawn
	for _, st := range list {
		var d struct {
			Region string        `json:"region"`
			Saw    []design.Sawn `json:"saw"`
		}
		if json.Unmarshal([]byte(st.Raw), &d) != nil || d.Region != shop.Catalog.ID {
			continue
		}
		g, err := s.store.Goods(ctx, st.ID)
		if err != nil {
			return nil, err
		}
		z, err := s.store.Sizes(ctx, st.ID)
		if err != nil {
			return nil, err
		}
		goods, sizes, saw = append(goods, goodsOf(g)...), append(sizes, sizesOf(z)...), append(saw, d.Saw...)
	}
	return shop.Learns(goods, record.Sunk(sizes), record.Trials(sizes), saw), nil
}

// learn takes over one of the estimates that are offered.
func (s *Server) learn(c *gin.Context) {
	p, shop, ok := s.project(c)
	if !ok {
		return
	}
	if ok, err := s.mayShed(c, p.Household, people.Keep); err != nil || !ok {
		if err != nil {
			s.trouble(c, err)
			return
		}
		s.fault(c, http.StatusForbidden, "Habits are the household's.", "Nothing was changed. Its owners keep them.")
		return
	}
	w := s.where(c, p, c.PostForm)
	w.Stage = "log"
	list, err := s.learns(asked(c), p.Household, shop)
	if err != nil {
		s.trouble(c, err)
		return
	}
	for _, e := range list {
		if e.Key != c.PostForm("key") {
			continue
		}
		h := plan.Learnt(shop.Habits, e)
		if err := h.Check(); err != nil {
			s.fault(c, http.StatusUnprocessableEntity, sentence(err.Error()), "The habits stay as they are.")
			return
		}
		if err := s.store.SetHabits(p.Household, p.Design.Region, h); err != nil {
			s.trouble(c, err)
			return
		}
		c.Set(sharedKey, true)
		s.did(c, "habits follow what was recorded")
		s.again(c, w)
		return
	}
	s.fault(c, http.StatusBadRequest, "There is nothing of that to learn from.", "Write down what was left, and how far"+
		" the soil sank, first.")
}

// left takes down what was left of things, how far soil sank, and what cuts took.
func (s *Server) left(c *gin.Context) {
	p, pl, ok := s.planned(c)
	if !ok {
		return
	}
	w := s.where(c, p, c.PostForm)
	w.Stage = "log"
	kept, err := s.store.Goods(asked(c), p.ID)
	if err != nil {
		s.trouble(c, err)
		return
	}
	form := c.Request.PostForm
	no := refused{values: map[string]string{}, reasons: map[string]string{}}
	refuse := func(key string, err error) { no.reasons[key] = err.Error() }
	for key := range form {
		no.values[key] = form.Get(key)
	}
	goods := map[string]store.Good{}
	for _, g := range kept {
		goods[g.Item] = g
	}
	var change []store.Good
	for _, r := range pl.Record(goodsOf(kept)) {
		key := "left:" + r.Item
		text := strings.TrimSpace(form.Get(key))
		if _, there := form[key]; !there || text == r.LeftText(pl) {
			continue
		}
		g := goods[r.Item]
		g.Item, g.Name, g.Left, g.At = r.Item, cmpOr(g.Name, r.Name), nil, ""
		if text != "" {
			n, err := record.ReadLeft(text, r.Unit, r.Pack, pl.Shop.Catalog.System)
			if err == nil && n > r.Had() {
				err = fmt.Errorf("there never was that much of it")
			}
			if err != nil {
				refuse(key, err)
				continue
			}
			g.Left, g.Need, g.Had = &n, r.Balanced.Used, r.Had()
		}
		change = append(change, g)
	}
	var sizes []store.Size
	var drop []string
	for _, bed := range p.Design.Beds {
		key := record.SunkKey + bed.ID
		text := strings.TrimSpace(form.Get(key))
		if _, there := form[key]; !there {
			continue
		}
		if text == "" {
			drop = append(drop, key)
			continue
		}
		l, err := measure.Parse(text, pl.Shop.Catalog.System)
		deep := pl.Deep(bed.ID)
		if err == nil && l >= deep {
			err = fmt.Errorf("the soil was %s deep, so it cannot have sunk by %s", pl.Shop.Precision().Short(deep), text)
		}
		if err != nil {
			refuse(key, err)
			continue
		}
		sizes = append(sizes, store.Size{Key: key, Planned: int64(deep), Measured: int64(l)})
	}
	if text := strings.TrimSpace(form.Get("kerf:lost")); text != "" {
		cuts, err1 := strconv.Atoi(strings.TrimSpace(form.Get("kerf:cuts")))
		lost, err2 := measure.Parse(text, pl.Shop.Catalog.System)
		switch {
		case err1 != nil || cuts < 1 || cuts > 200:
			refuse("kerf:lost", fmt.Errorf("%q is no number of cuts: 1 to 200", form.Get("kerf:cuts")))
		case err2 != nil:
			refuse("kerf:lost", err2)
		case lost/measure.Length(cuts) > 12*measure.Millimetre:
			refuse("kerf:lost", fmt.Errorf("no saw takes %s with one cut: 0 to 12 mm (1/2 in) works",
				lost/measure.Length(cuts)))
		default:
			sizes = append(sizes, store.Size{Key: record.KerfKey + strconv.Itoa(cuts),
				Planned: int64(pl.Shop.Habits.Kerf) * int64(cuts), Measured: int64(lost)})
		}
	}
	if gone := form.Get("drop"); gone != "" {
		drop = append(drop, gone)
	}
	if len(no.reasons) > 0 {
		s.showBench(c, http.StatusUnprocessableEntity, p, pl.Shop, w, 0, no)
		return
	}
	if !s.kept(c, s.store.PutGoods(p.ID, change...)) || !s.kept(c, s.store.PutSizes(p.ID, sizes, drop...)) {
		return
	}
	s.did(c, "what was used is written down")
	s.again(c, w)
}

func isFull(err error) bool { return errors.Is(err, store.ErrFull) }
