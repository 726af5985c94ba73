package web

import (
	"errors"
	"fmt"
	"math"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"chamfer/core/catalog"
	"chamfer/core/measure"
	"chamfer/core/money"
)

type habitsPage struct {
	Title string
	Forms []habitForm
	Said  string
}

type habitForm struct {
	Region, Name string
	Fields       []habitField
}

type habitField struct {
	Key, Label, Help, Text, Error string
	Choices                       []string
}

func (s *Server) habits(c *gin.Context) {
	said := ""
	if r := c.Query("kept"); r != "" {
		said = "Kept. Every plan of “" + regionName(r) + "” now uses them."
	}
	s.habitsForm(c, http.StatusOK, said, "", nil, nil)
}

// habitsForm shows the habits of both regions; typed and refused belong to the
// form of one region.
func (s *Server) habitsForm(c *gin.Context, status int, said, region string, typed, refusedFor map[string]string) {
	page := habitsPage{Title: "How you work", Said: said}
	for _, cat := range catalog.Regions() {
		h, err := s.store.Habits(asked(c), visitorOf(c).Household, cat)
		if err != nil {
			s.trouble(c, err)
			return
		}
		f := habitForm{Region: cat.ID, Name: cat.Name, Fields: habitFields(cat, h)}
		for i := range f.Fields {
			if t, ok := typed[f.Fields[i].Key]; ok && region == cat.ID {
				f.Fields[i].Text, f.Fields[i].Error = t, refusedFor[f.Fields[i].Key]
			}
		}
		page.Forms = append(page.Forms, f)
	}
	s.show(c, status, "habits.html", page)
}

func habitFields(cat *catalog.Catalog, h catalog.Habits) []habitField {
	symbol := h.CurrencySymbol
	if symbol == "" {
		symbol = cat.Currency.Symbol
	}
	precisions := []string{"1/8 in", "1/16 in", "1/32 in"}
	length := measure.Sixteenths.Feet
	if cat.System == measure.Metric {
		precisions = []string{"1 mm", "5 mm"}
		length = measure.Millimetres.Short
	}
	return []habitField{
		{
			Key:   "kerf",
			Label: "Kerf of your saw",
			Help:  "What one cut takes. Cut a scrap in two and measure what is missing.",
			Text:  h.Kerf.String(),
		},
		{
			Key:     "precision",
			Label:   "Lengths are printed to",
			Help:    "Only printing rounds; arithmetic never does.",
			Text:    h.Precision,
			Choices: precisions,
		},
		{Key: "currency", Label: "Currency sign", Help: "Prices are not converted.", Text: symbol},
		{
			Key:   "tax",
			Label: "Tax added to prices, %",
			Help:  "0 where prices include it.",
			Text:  hundredths(h.TaxBasisPoints),
		},
		{
			Key:   "settling",
			Label: "Extra soil for settling, %",
			Help:  "Fresh mix loses 10 to 20 % of its depth in the first season (common practice).",
			Text:  hundredths(h.SettlingPerMille * 10),
		},
		{
			Key:   "spare",
			Label: "Spare screws, %",
			Help:  "For the dropped and the stripped.",
			Text:  hundredths(h.SparePerMille * 10),
		},
		{
			Key:   "spoilt",
			Label: "Spare boards, %",
			Help:  "For pieces that are spoilt, of the longest that are bought. 0 buys one when it has happened.",
			Text:  hundredths(h.SpoiltPerMille * 10),
		},
		{
			Key:   "carry",
			Label: "Longest board the car takes",
			Help:  "Longer boards are planned only for pieces that need them.",
			Text:  length(h.Carry),
		},
		{
			Key:   "wall_limit",
			Label: "Walls may hold soil up to",
			Help:  "Without an engineer, where you live: the local office says. The model code has 24 in (610 mm).",
			Text:  length(h.WallsUpTo()),
		},
		{
			Key:   "reach",
			Label: "Your reach, measured",
			Help: "From one side of a bed, as far as you work in comfort. 0 takes what is usual, about 24 in" +
				" (600 mm).",
			Text: length(h.Reach),
		},
		{
			Key:   "after",
			Label: "Of the cheapest ways to cut, first look for",
			Help: "leftovers: the longest ones. setups: the fewest different ways to set the saw. boards: the" +
				" fewest to carry. nothing: the first that is found.",
			Text:    cmpOr(h.After, catalog.Afters[0]),
			Choices: catalog.Afters,
		},
		{
			Key:   "shop_cuts",
			Label: "The shop cuts longer boards to fit",
			Help: "They are then planned with where that is cheaper, and the cut sheet says where the shop is" +
				" to cut.",
			Text:    yesNo(h.ShopCuts),
			Choices: []string{"no", "yes"},
		},
		{
			Key:   "shop_free",
			Label: "Cuts the shop does for nothing",
			Help:  "Of one visit.",
			Text:  strconv.Itoa(h.ShopFree),
		},
		{Key: "shop_fee", Label: "Each further cut costs", Help: "0 where all are free.", Text: h.ShopFee.String()},
		{Key: "car_kg", Label: "The car carries", Help: "Besides who drives, with its trailer: its papers say.",
			Text: cat.System.Mass(h.CarMass())},
		{Key: "car_litres", Label: "And has room for", Help: "With the seats down, or on the trailer; empty looks at weight" +
			" alone.", Text: roomText(h.CarLitres, cat.System)},
		{Key: "trip", Label: "A trip to the shop costs", Help: "There and back, with your time if you like.",
			Text: h.Trip.String()},
		{Key: "delivery", Label: "A delivery costs", Help: "Of all of it at once; 0 where nobody asked.",
			Text: h.Delivery.String()},
	}
}

// litresOfFoot are those of a cubic foot.
const litresOfFoot = 28.316846592

// roomText is room as it is typed; "" where nobody said.
func roomText(litres float64, sys measure.System) string {
	switch {
	case litres == 0:
		return ""
	case sys == measure.Imperial:
		return strconv.FormatFloat(math.Round(10*litres/litresOfFoot)/10, 'f', -1, 64) + " cu ft"
	}
	return strconv.FormatFloat(math.Round(litres), 'f', -1, 64) + " l"
}

// litresOf reads litres or cubic feet; of a bare number the system says which, and nothing is none.
func litresOf(text string, sys measure.System) (litres float64, err error) {
	bare, feet := strings.TrimSpace(text), sys == measure.Imperial
	if bare == "" {
		return 0, nil
	}
	for unit, ft := range map[string]bool{"l": false, "litres": false, "cu ft": true, "ft3": true} {
		if cut, ok := strings.CutSuffix(bare, " "+unit); ok {
			bare, feet = cut, ft
		}
	}
	v, err := measure.ParseNumber(strings.ReplaceAll(strings.TrimSpace(bare), ",", ""))
	if err != nil {
		return 0, fmt.Errorf("%q is no room; 1200 l or 42 cu ft works", text)
	}
	if feet {
		v *= litresOfFoot
	}
	return v, nil
}

// massOf reads kilograms or pounds; of a bare number the system says which.
func massOf(text string, sys measure.System) (kg float64, err error) {
	bare, pounds := text, sys == measure.Imperial
	for unit, lb := range map[string]bool{"kg": false, "lb": true, "lbs": true} {
		if cut, ok := strings.CutSuffix(text, unit); ok {
			bare, pounds = cut, lb
		}
	}
	v, err := measure.ParseNumber(strings.ReplaceAll(strings.TrimSpace(bare), ",", ""))
	if err != nil {
		return 0, fmt.Errorf("%q is no weight; 300 kg or 660 lb works", text)
	}
	if pounds {
		v *= float64(measure.PoundMass)
	}
	return v, nil
}

func yesNo(b bool) string {
	if b {
		return "yes"
	}
	return "no"
}

func hundredths(n int) string {
	return strings.TrimSuffix(strings.TrimSuffix(fmt.Sprintf("%d.%02d", n/100, n%100), "0"), ".0")
}

func (s *Server) setHabits(c *gin.Context) {
	cat, err := catalog.ForRegion(c.PostForm("region"))
	if err != nil {
		s.fault(c, http.StatusBadRequest, "There is no such region.", "Go back to the habits and set them there.")
		return
	}
	h, err := s.store.Habits(asked(c), visitorOf(c).Household, cat)
	if err != nil {
		s.trouble(c, err)
		return
	}
	typed, bad := map[string]string{}, map[string]string{}
	text := func(key string) string {
		typed[key] = strings.TrimSpace(c.PostForm(key))
		return typed[key]
	}
	length := func(key string, into *measure.Length) {
		l, err := measure.Parse(text(key), cat.System)
		if err != nil {
			bad[key] = err.Error()
			return
		}
		*into = l
	}
	percent := func(key string, per int, into *int) {
		v, err := measure.ParseNumber(strings.TrimSuffix(text(key), "%"))
		if err != nil || v > 50 {
			bad[key] = fmt.Sprintf("%q is not a share: 0 to 50 works, such as 7.5", typed[key])
			return
		}
		*into = int(math.Round(v * float64(per)))
	}
	length("kerf", &h.Kerf)
	length("carry", &h.Carry)
	if _, there := c.GetPostForm("reach"); there {
		length("reach", &h.Reach)
	}
	if _, there := c.GetPostForm("wall_limit"); there {
		length("wall_limit", &h.WallLimit)
		if h.WallLimit == catalog.ModelWall {
			h.WallLimit = 0
		}
	}
	percent("tax", 100, &h.TaxBasisPoints)
	percent("settling", 10, &h.SettlingPerMille)
	percent("spare", 10, &h.SparePerMille)
	if _, there := c.GetPostForm("spoilt"); there {
		percent("spoilt", 10, &h.SpoiltPerMille)
	}
	h.Precision, h.CurrencySymbol = text("precision"), text("currency")
	if _, there := c.GetPostForm("after"); there {
		h.After = text("after")
	}
	if _, there := c.GetPostForm("shop_cuts"); there {
		h.ShopCuts = text("shop_cuts") == "yes"
		if h.ShopFree, err = strconv.Atoi(text("shop_free")); err != nil {
			bad["shop_free"] = "a whole number works, such as 2"
		}
		if h.ShopFee, err = money.Parse(text("shop_fee")); err != nil {
			bad["shop_fee"] = err.Error()
		}
	}
	if _, there := c.GetPostForm("car_kg"); there {
		if kg, err := massOf(text("car_kg"), cat.System); err != nil {
			bad["car_kg"] = err.Error()
		} else if cat.System.Mass(measure.Mass(kg)) != cat.System.Mass(h.CarMass()) { // else it says what it said
			h.CarKg = kg
		}
		if _, there := c.GetPostForm("car_litres"); there {
			litres, err := litresOf(text("car_litres"), cat.System)
			switch {
			case err != nil:
				bad["car_litres"] = err.Error()
			case roomText(litres, cat.System) != roomText(h.CarLitres, cat.System): // else it says what it said
				h.CarLitres = litres
			}
		}
		for key, into := range map[string]*money.Amount{"trip": &h.Trip, "delivery": &h.Delivery} {
			if *into, err = money.Parse(text(key)); err != nil {
				bad[key] = err.Error()
			}
		}
	}
	if err := h.Check(); err != nil && len(bad) == 0 {
		var e *catalog.HabitError
		if errors.As(err, &e) {
			bad[e.Field] = e.Reason
		}
	}
	if len(bad) > 0 {
		s.habitsForm(c, http.StatusUnprocessableEntity, "", cat.ID, typed, bad)
		return
	}
	if err := s.store.SetHabits(visitorOf(c).Household, cat.ID, h); err != nil {
		s.trouble(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/habits?kept="+cat.ID)
}
