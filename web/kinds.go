package web

import (
	"fmt"
	"html/template"
	"net/http"
	"strings"
	"sync"

	"github.com/gin-gonic/gin"

	"chamfer/core/aside"
	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/plan"
	"chamfer/draw"
)

// startCard is a way of building to begin with, at the size it usually has.
type startCard struct {
	Name, Title, About, Size, Total, Years string
	Drawing                                template.HTML
}

type startGroup struct {
	Name  plan.Group
	Cards []startCard
}

type kindsPage struct {
	Title   string
	Region  string
	Regions []*catalog.Catalog
	Groups  []startGroup
}

// starts draws every way of building once for each region; it is the same as long as the program runs.
var starts sync.Map // by region

// kinds shows every way of building, drawn, to begin with one.
func (s *Server) kinds(c *gin.Context) {
	region := c.Query("region")
	if _, err := catalog.ForRegion(region); err != nil {
		region = catalog.Regions()[0].ID
	}
	groups, ok := starts.Load(region)
	if !ok {
		made, err := startsOf(region)
		if err != nil {
			s.trouble(c, err)
			return
		}
		groups, _ = starts.LoadOrStore(region, made)
	}
	s.show(c, http.StatusOK, "kinds.html", kindsPage{Title: "Ways to build a bed", Region: region,
		Regions: catalog.Regions(), Groups: groups.([]startGroup)})
}

func startsOf(region string) ([]startGroup, error) {
	shop, err := plan.ShopFor(region)
	if err != nil {
		return nil, err
	}
	systems := design.Systems()
	cards, group := make([]startCard, len(systems)), make([]plan.Group, len(systems))
	errs := make([]error, len(systems))
	for i, fault := range aside.Do(len(systems), func(i int) {
		d, err := design.NewOf(shop.Catalog, systems[i].Title, systems[i].Name)
		var p *plan.Plan
		if err == nil {
			p, err = plan.Make(d, shop)
		}
		if err != nil {
			errs[i] = fmt.Errorf("%s: %w", systems[i].Name, err)
			return
		}
		b, pr := d.Beds[0], shop.Precision()
		var size []string
		for _, key := range []string{"length", "width"} {
			if f, ok := design.FieldOf(b, key); ok {
				size = append(size, f.Text(b, pr))
			}
		}
		group[i] = plan.GroupOf(systems[i], &p.Frames[0])
		cards[i] = startCard{Name: systems[i].Name, Title: systems[i].Title, About: systems[i].About,
			Size:  strings.Join(size, " × ") + ", " + pr.Feet(b.Soil) + " of soil",
			Total: shop.Currency().Format(p.Bill.Total), Years: p.Figure("years").Text,
			Drawing: template.HTML(draw.Bed(p, "", draw.Solid, draw.Sheet{W: 220, H: 132, Font: 12, Plain: true}))}
	}) {
		if fault != nil {
			return nil, fault
		}
		if errs[i] != nil {
			return nil, errs[i]
		}
	}
	var groups []startGroup
	for _, name := range []plan.Group{plan.OfTimber, plan.OfBlocks, plan.OnLegs} {
		g := startGroup{Name: name}
		for i, card := range cards {
			if group[i] == name {
				g.Cards = append(g.Cards, card)
			}
		}
		groups = append(groups, g)
	}
	return groups, nil
}
