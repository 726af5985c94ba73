package web

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/design"
	"chamfer/core/money"
	"chamfer/core/plan"
	"chamfer/core/record"
	"chamfer/store"
)

// shopStage is the list in the aisle: what is in the cart, what the shop has not, what it costs there.
var shopStage = stage{Key: "shop", Name: "Shop", About: "What goes into the cart, aisle by aisle", Shows: "cart:",
	Body: func(ctx context.Context, s *Server, b *benchPage, no refused) (any, error) {
		goods, err := s.store.Goods(ctx, b.ID)
		if err != nil {
			return nil, err
		}
		body := b.shopping(goods, no)
		if body.Home, err = b.homeward(); err != nil {
			return nil, err
		}
		body.Moved, err = s.moved(ctx, b)
		return body, err
	}}

type shopBody struct {
	Aisles       []shopAisle
	Back         []shopLine // in the cart, and on the list no more
	Without      []shopLine // the plan does without
	Told         []string
	Moved        []string // how the shops' prices, and what they have, have moved since
	Taken, All   int
	Spent, Total string
	Made         int64
	Home         *homeView
}

type shopAisle struct {
	Shop, Name, Sum string
	First           bool // of its shop
	Lines           []shopLine
}

// shopLine is one thing to take.
type shopLine struct {
	Item, ID, Name, Words, Why string
	In                         bool
	More                       string // "2 boards more", "1 bag too many"
	Packs, Price, Amount       string
	MayLack, Lacked            bool
	PacksNo, PriceNo           string
}

// cartKey is what the tick of a thing is called.
const cartKey = "cart:"

func (b *benchPage) shopping(goods []store.Good, no refused) shopBody {
	body := shopBody{Made: time.Now().UnixMilli(), Told: no.told, Total: b.P.Money(b.Plan.Bill.Total)}
	packs, of := map[string]int{}, map[string]store.Good{}
	for _, g := range goods {
		packs[g.Item], of[g.Item] = g.Packs, g
	}
	carts, spent := b.Plan.Bill.Cart(packs)
	body.Spent = b.P.Money(spent)
	shop := ""
	for _, c := range carts {
		a := shopAisle{Shop: c.Shop, Name: c.Name, Sum: b.P.Money(c.Sum), First: c.Shop != shop}
		shop = c.Shop
		for _, l := range c.Lines {
			v := shopLine{Item: l.SKU, ID: catalog.Slug(l.SKU), Name: l.Item, Words: cost.Packs(l.Quantity, l.Unit), Why: l.Why,
				In: l.Packs > 0 && l.More <= 0, Packs: strconv.Itoa(l.Quantity), Price: l.Price.String(),
				Amount: b.P.Money(l.Amount), Lacked: of[l.SKU].Lacked,
				MayLack: b.Plan.Shop.Catalog.MayLack(l.SKU)}
			switch {
			case l.Packs > 0 && l.More > 0:
				v.More = cost.Packs(l.More, l.Unit) + " more"
			case l.More < 0:
				v.More = cost.Packs(-l.More, l.Unit) + " too many"
			}
			if l.Packs > 0 {
				v.Packs = strconv.Itoa(l.Packs)
			}
			if no.values["tick"] == cartKey+l.SKU {
				v.Packs, v.Price = no.values["packs"], no.values["paid"]
				v.PacksNo, v.PriceNo = sentence(no.why("cart:packs")), sentence(no.why("cart:paid"))
			}
			body.All++
			if v.In {
				body.Taken++
			}
			a.Lines = append(a.Lines, v)
		}
		body.Aisles = append(body.Aisles, a)
	}
	back := b.Plan.Bill.Back(packs)
	for _, g := range goods { // in their order
		if n := back[g.Item]; n > 0 {
			body.Back = append(body.Back, shopLine{Item: g.Item, ID: catalog.Slug(g.Item), Name: g.Name,
				Words: cost.Packs(n, g.Unit), In: true})
		}
	}
	for _, sku := range b.Plan.Design.Without {
		body.Without = append(body.Without, shopLine{Item: sku, ID: catalog.Slug(sku), Name: b.Plan.NameOf(sku)})
	}
	return body
}

// cart takes down what happened in the aisle: something went into the cart or out of it, was not there, cost so much.
func (s *Server) cart(c *gin.Context) {
	p, pl, ok := s.planned(c)
	if !ok {
		return
	}
	w := s.where(c, p, c.PostForm)
	w.Stage = "shop"
	item := strings.TrimPrefix(c.PostForm("tick"), cartKey)
	goods, err := s.store.Goods(asked(c), p.ID)
	if err != nil {
		s.trouble(c, err)
		return
	}
	g := store.Good{Item: item}
	if i := slices.IndexFunc(goods, func(g store.Good) bool { return g.Item == item }); i >= 0 {
		g = goods[i]
	}
	k := slices.IndexFunc(pl.Bill.Lines, func(l cost.Line) bool { return l.SKU == item && !l.Owned })
	if k < 0 && g.Packs == 0 && !slices.Contains(p.Design.Without, item) {
		s.fault(c, http.StatusBadRequest, "That is not on the list.",
			"It may have gone with a change of the design: open the list anew.")
		return
	}
	var line cost.Line
	if k >= 0 {
		line = pl.Bill.Lines[k]
		g.Name, g.Unit = line.Item, line.Unit
	}
	no := refused{values: map[string]string{"tick": c.PostForm("tick"), "packs": c.PostForm("packs"),
		"paid": c.PostForm("paid")}, reasons: map[string]string{}}
	var edits []design.Edit
	label := "in the cart: " + line.Item
	switch how := c.PostForm("how"); {
	case how == "none" && k >= 0:
		g.Packs = 0
		if err := s.seenAt(c, p, line, line.Price, 0); err != nil {
			s.trouble(c, err)
			return
		}
		s.lacked(c, p, pl, w, g)
		return
	case how == "there":
		edits, label, g.Lacked = append(edits, design.Edit{Field: "without:" + item}), "there again", false
		if !slices.Contains(p.Design.Without, item) {
			edits = nil
		}
	case how == "paid" && k >= 0:
		if g.Packs, err = strconv.Atoi(strings.TrimSpace(c.PostForm("packs"))); err != nil || g.Packs < 0 ||
			g.Packs > record.MostPacks {
			no.reasons["cart:packs"] = fmt.Sprintf("%q is no number of them: 0, 3", c.PostForm("packs"))
		}
		g.Lacked = false
		paid, err := money.Parse(c.PostForm("paid"))
		if err != nil {
			no.reasons["cart:paid"] = err.Error()
		}
		n := int64(paid)
		g.Paid = &n
		if len(no.reasons) == 0 && paid != line.Price {
			edits = append(edits, pl.Paid(line, paid)...)
			label = "paid: " + line.Item
			err = s.seenAt(c, p, line, paid, catalog.Plenty)
		}
		if err != nil && len(no.reasons) == 0 {
			s.trouble(c, err)
			return
		}
	case c.PostForm("done") == "yes" && k >= 0:
		g.Packs, g.Lacked = line.Quantity, false
		if g.Paid == nil {
			n := int64(line.Price)
			g.Paid = &n
		}
	default:
		g.Packs, g.Paid, label = 0, nil, "put back: "+g.Name
	}
	if at, err := time.Parse(time.RFC3339, c.PostForm("at")); err == nil && at.Before(time.Now()) {
		g.At = at.UTC().Format(time.RFC3339)
	} else {
		g.At = ""
	}
	if len(no.reasons) > 0 {
		s.showBench(c, http.StatusUnprocessableEntity, p, pl.Shop, w, 0, no)
		return
	}
	s.took(c, p, pl, w, g, edits, label, refused{})
}

// took keeps what became of a thing, and what of the design that changes.
func (s *Server) took(c *gin.Context, p store.Project, pl *plan.Plan, w where, g store.Good, edits []design.Edit,
	label string, no refused) {
	if len(edits) > 0 {
		made, err := s.change(c, p, pl.Shop, edits, label)
		if err != nil {
			s.refuse(c, p, pl.Shop, w, err, nil)
			return
		}
		pl = made
	}
	switch err := s.store.PutGoods(p.ID, g); {
	case errors.Is(err, store.ErrFull):
		s.fault(c, http.StatusUnprocessableEntity, "This project has as many things written down as it can keep.",
			"Take out what is not needed.")
		return
	case err != nil:
		s.trouble(c, err)
		return
	}
	s.did(c, label)
	if !scripted(c) && len(no.told) == 0 {
		c.Redirect(http.StatusSeeOther, w.Link()+"#item-"+catalog.Slug(g.Item))
		return
	}
	now, err := s.store.Project(asked(c), p.ID)
	if err != nil {
		s.trouble(c, err)
		return
	}
	s.benchOf(c, http.StatusOK, now, pl.Shop, w, 0, no, pl)
}

// change saves edits that take down what came of the work on top of whatever stands: they decide nothing that anybody
// else may have decided meanwhile.
func (s *Server) change(c *gin.Context, p store.Project, shop plan.Shop, edits []design.Edit, label string) (
	*plan.Plan, error) {
	for tries := 0; ; tries++ {
		next, err := design.Apply(p.Design, shop.Catalog, edits...)
		if err != nil {
			return nil, err
		}
		made, kept, err := s.admit(next, shop)
		if err != nil {
			return nil, err
		}
		kept.Edit = store.Edit{By: visitorOf(c).Account, Edits: edits}
		var conflict *store.Conflict
		if err = s.store.Save(p.ID, p.Head, next, label, kept); !errors.As(err, &conflict) || tries > 3 {
			return made, err
		}
		if p, err = s.store.Project(asked(c), p.ID); err != nil {
			return nil, err
		}
	}
}

// lacked takes down that the shop has none of something: the plan does without where it can, and says what is bought in
// its stead; where nothing else would do it stays on the list, for another shop.
func (s *Server) lacked(c *gin.Context, p store.Project, pl *plan.Plan, w where, g store.Good) {
	g.Lacked, g.Paid = true, nil
	no := refused{told: []string{g.Name + ": nothing else here would do, so it stays on the list. Another shop may have" +
		" it, or other sizes on the Frame page do without."}}
	var edits []design.Edit
	if pl.Shop.Catalog.MayLack(g.Item) {
		edit := design.Edit{Field: "without:" + g.Item, Value: "yes"}
		if next, err := design.Apply(p.Design, pl.Shop.Catalog, edit); err == nil {
			if made, _, err := s.admit(next, pl.Shop); err == nil && made.Can(pl) {
				edits, g.Lacked = []design.Edit{edit}, false
				list, more := made.Instead(pl)
				no.told = []string{"Without " + g.Name + " it is planned anew, for " + pl.Shop.Currency().Format(max(more, -more)) +
					map[bool]string{true: " more.", false: " less."}[more >= 0]}
				for _, x := range list {
					no.told = append(no.told, x.Words())
				}
			}
		}
	}
	s.took(c, p, pl, w, g, edits, "none there: "+g.Name, no)
}
