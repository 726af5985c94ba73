package export

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"regexp"
	"strings"
	"time"

	"chamfer/core/cutting"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/money"
)

// The cut request and answer files are described in docs/format.md.
type cutFile struct {
	Kerf    string         `json:"kerf"`
	RipKerf string         `json:"rip_kerf"`
	Keep    string         `json:"keep"`
	Aims    *[]cutting.Aim `json:"aims"`
	Budget  *float64       `json:"budget"`
	Shop    *struct {
		Carry string `json:"carry"`
		Fee   string `json:"fee"`
		Free  int    `json:"free"`
		Loss  string `json:"loss"`
	} `json:"shop"`
	Stock []struct {
		ID       string    `json:"id"`
		Profile  string    `json:"profile"`
		Length   string    `json:"length"`
		Price    string    `json:"price"`
		Quantity *int      `json:"quantity"`
		Width    string    `json:"width"`
		Defects  []cutSpan `json:"defects"`
		Trim     *struct {
			Start string `json:"start"`
			End   string `json:"end"`
		} `json:"trim"`
	} `json:"stock"`
	Pieces []struct {
		ID       string `json:"id"`
		Profile  string `json:"profile"`
		Length   string `json:"length"`
		Width    string `json:"width"`
		Turn     bool   `json:"turn"`
		Quantity *int   `json:"quantity"`
		Join     *struct {
			Least  string    `json:"least"`
			Cost   string    `json:"cost"`
			Clear  []cutSpan `json:"clear"`
			Wall   string    `json:"wall"`
			Course int       `json:"course"`
			Apart  string    `json:"apart"`
		} `json:"join"`
	} `json:"pieces"`
}

type cutSpan struct {
	From string `json:"from"`
	To   string `json:"to"`
}

// metricLength and inchLength find lengths that are written in either system.
var (
	metricLength = regexp.MustCompile(`"[\d.,½¼¾⅛⅜⅝⅞ /-]+(mm|cm|m)"`)
	inchLength   = regexp.MustCompile(`"[\d.,½¼¾⅛⅜⅝⅞ /-]+(in|ft|'|\\"|′|″)`)
)

// SystemOf is what a cut request's lengths are written in: metric where all of them are.
func SystemOf(raw []byte) measure.System {
	if metricLength.Match(raw) && !inchLength.Match(raw) {
		return measure.Metric
	}
	return measure.Imperial
}

// ReadCuts reads a cut request. Errors are one line naming the field and the
// fault, most as [*cutting.BadRequest].
func ReadCuts(raw []byte) (cutting.Request, error) {
	var r cutting.Request
	if len(raw) > MaxFile {
		return r, ErrTooLarge
	}
	var f cutFile
	dec := json.NewDecoder(bytes.NewReader(bytes.TrimPrefix(raw, bom)))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&f); err != nil {
		return r, fmt.Errorf("cut request: %w", plainly(err))
	}
	if _, err := dec.Token(); !errors.Is(err, io.EOF) {
		return r, &cutting.BadRequest{Field: "cut request", Fault: "there is more after the closing brace"}
	}
	c := &cutReader{}
	if f.Kerf == "" {
		c.err = &cutting.BadRequest{Field: "kerf", Fault: `missing; write it like "1/8 in", or "0 in"`}
	}
	r.Kerf = c.length("kerf", f.Kerf)
	r.RipKerf, r.Keep = c.maybe("rip_kerf", f.RipKerf), c.maybe("keep", f.Keep)
	if f.Aims != nil {
		r.Aims = append([]cutting.Aim{}, *f.Aims...)
	}
	if f.Shop != nil {
		r.Shop = &cutting.ShopSaw{
			Carry: c.length("shop.carry", f.Shop.Carry),
			Free:  f.Shop.Free,
			Loss:  c.maybe("shop.loss", f.Shop.Loss),
		}
		if f.Shop.Fee != "" {
			r.Shop.Fee = c.price("shop.fee", f.Shop.Fee)
		}
	}
	if f.Budget != nil {
		if r.Effort = int64(*f.Budget * cutting.SecondsEffort); *f.Budget <= 0 || *f.Budget > 600 {
			c.fault("budget", "over 0 and up to 600 seconds works")
		}
	}
	stock, pieces := map[string]bool{}, map[string]bool{}
	for i, s := range f.Stock {
		at := fmt.Sprintf("stock[%d]", i)
		o := cutting.Stock{
			ID:       s.ID,
			Profile:  s.Profile,
			Length:   c.length(at+".length", s.Length),
			Quantity: cutting.Unlimited,
		}
		o.Price = c.price(at+".price", s.Price)
		c.id(at+".id", s.ID, stock)
		if s.Quantity != nil {
			o.Quantity = *s.Quantity
			if o.Quantity < 0 {
				c.fault(at+".quantity", fmt.Sprintf("%d is not a number of boards", o.Quantity))
			}
		}
		if s.Trim != nil {
			o.TrimStart = c.maybe(at+".trim.start", s.Trim.Start)
			o.TrimEnd = c.maybe(at+".trim.end", s.Trim.End)
		}
		o.Width = c.maybe(at+".width", s.Width)
		o.Defects = c.spans(at+".defects", s.Defects)
		r.Stock = append(r.Stock, o)
	}
	for i, p := range f.Pieces {
		at := fmt.Sprintf("pieces[%d]", i)
		q := cutting.Piece{
			ID:       p.ID,
			Profile:  p.Profile,
			Length:   c.length(at+".length", p.Length),
			Width:    c.maybe(at+".width", p.Width),
			Turn:     p.Turn,
			Quantity: 1,
		}
		c.id(at+".id", p.ID, pieces)
		if p.Quantity != nil {
			q.Quantity = *p.Quantity
		}
		if j := p.Join; j != nil {
			at += ".join"
			q.Join = &cutting.Join{Least: c.length(at+".least", j.Least), Wall: j.Wall, Course: j.Course,
				Clear: c.spans(at+".clear", j.Clear), Apart: c.maybe(at+".apart", j.Apart)}
			if j.Cost != "" {
				q.Join.Cost = c.price(at+".cost", j.Cost)
			}
		}
		r.Pieces = append(r.Pieces, q)
	}
	if c.err != nil {
		return r, c.err
	}
	return r, r.Check()
}

// plainly says a JSON fault in one line.
func plainly(err error) error {
	var t *json.UnmarshalTypeError
	switch {
	case errors.As(err, &t):
		return &cutting.BadRequest{
			Field: t.Field,
			Fault: fmt.Sprintf("a %s stands where a %s belongs", t.Value, t.Type),
		}
	case errors.Is(err, io.EOF), errors.Is(err, io.ErrUnexpectedEOF):
		return errors.New("the file ends too early")
	}
	return err
}

// cutReader keeps the first fault.
type cutReader struct{ err error }

func (c *cutReader) fault(field, fault string) {
	if c.err == nil {
		c.err = &cutting.BadRequest{Field: field, Fault: fault}
	}
}

// id reads what stock or a piece is called: something that can be seen, and that nothing
// before it is called.
func (c *cutReader) id(field, id string, taken map[string]bool) {
	switch {
	case id == "":
		c.fault(field, "missing")
	case !design.Visible(id):
		c.fault(field, fmt.Sprintf("%q is no name that can be seen", id))
	case taken[id]:
		c.fault(
			field,
			fmt.Sprintf("%q stands there twice: give each its own, and a quantity where there are several", id),
		)
	}
	taken[id] = true
}

// length reads a length that carries its unit: a cut request has no project
// around it that would say what a bare number is.
func (c *cutReader) length(field, text string) measure.Length {
	mm, err := measure.Parse(text, measure.Metric)
	if err != nil {
		reason := err.Error()
		if p := (*measure.ParseError)(nil); errors.As(err, &p) {
			reason = fmt.Sprintf(`%q: %v; write it like "93 1/2 in" or "2400 mm"`, text, p.Reason)
		}
		c.fault(field, reason)
		return 0
	}
	if in, err := measure.Parse(text, measure.Imperial); err == nil && in != mm {
		bare := strings.Join(strings.Fields(text), " ")
		c.fault(field, fmt.Sprintf(`%q needs its unit here, such as "%s in" or "%s mm"`, text, bare, bare))
	}
	return mm
}

// maybe reads a length that may be left out.
func (c *cutReader) maybe(field, text string) measure.Length {
	if text == "" {
		return 0
	}
	return c.length(field, text)
}

func (c *cutReader) spans(field string, list []cutSpan) []cutting.Span {
	var out []cutting.Span
	for i, s := range list {
		at := fmt.Sprintf("%s[%d]", field, i)
		out = append(out, cutting.Span{From: c.maybe(at+".from", s.From), To: c.length(at+".to", s.To)})
	}
	return out
}

func (c *cutReader) price(field, text string) money.Amount {
	a, err := money.Parse(text)
	if err != nil {
		c.fault(field, err.Error())
	}
	return a
}

// CutAnswer is the answer file.
type CutAnswer struct {
	Cost       string     `json:"cost"`
	LowerBound string     `json:"lower_bound"`
	Proved     bool       `json:"proved"`
	Considered []string   `json:"considered"`
	Boards     []CutBoard `json:"boards"`
	Unmet      []CutUnmet `json:"unmet"`
	ShopCuts   int        `json:"shop_cuts,omitempty"`
	Joined     []CutJoin  `json:"joined,omitempty"`
	ElapsedMS  *float64   `json:"elapsed_ms,omitempty"`
}

// CutBoard is a way to cut a board, done Count times.
type CutBoard struct {
	Stock  string     `json:"stock"`
	Count  int        `json:"count"`
	Strips []string   `json:"strips,omitempty"`
	Blanks []CutBlank `json:"blanks,omitempty"`
	Cuts   []CutPiece `json:"cuts"`
	Offcut string     `json:"offcut"`
	Left   []string   `json:"left,omitempty"`
	Part   string     `json:"part,omitempty"`
}

// CutBlank is a length that is crosscut first, ripped into strips, and they crosscut.
type CutBlank struct {
	At     string   `json:"at"`
	Length string   `json:"length"`
	Strips []string `json:"strips"`
}

// CutPiece is one piece cut.
type CutPiece struct {
	Piece  string `json:"piece"`
	Length string `json:"length"`
	At     string `json:"at"`
	Blank  int    `json:"blank,omitempty"`
	Strip  int    `json:"strip,omitempty"`
	Width  string `json:"width,omitempty"`
	Out    int    `json:"out,omitempty"`
	Turned bool   `json:"turned,omitempty"`
	Part   int    `json:"part,omitempty"`
}

// CutJoin is where a piece that may be joined is joined, from its left end.
type CutJoin struct {
	Piece  string   `json:"piece"`
	Joints []string `json:"joints"`
}

// CutUnmet is a piece that could not be had.
type CutUnmet struct {
	Piece    string `json:"piece"`
	Quantity int    `json:"quantity"`
}

// Answer turns an answer into its file form.
func Answer(a cutting.Answer, sys measure.System) CutAnswer {
	out := CutAnswer{
		Cost:       a.Cost.String(),
		LowerBound: a.LowerBound.String(),
		Proved:     a.Proved,
		Considered: a.Considered,
		Boards:     []CutBoard{},
		Unmet:      []CutUnmet{},
		ShopCuts:   a.ShopCuts,
	}
	for _, b := range a.Boards {
		cb := CutBoard{Stock: b.Stock.ID, Count: b.Count, Offcut: b.Offcut.In(sys)}
		for _, c := range b.Cuts {
			p := CutPiece{
				Piece:  c.Piece,
				Length: c.Length.In(sys),
				At:     c.At.In(sys),
				Blank:  c.Blank,
				Strip:  c.Strip,
				Turned: c.Turned,
				Part:   c.Part,
			}
			if c.Width > 0 {
				p.Width = c.Width.In(sys)
			}
			if c.Out > 1 {
				p.Out = c.Out
			}
			cb.Cuts = append(cb.Cuts, p)
		}
		for _, blank := range b.Blanks {
			one := CutBlank{At: blank.At.In(sys), Length: blank.Length.In(sys)}
			for _, s := range blank.Strips {
				one.Strips = append(one.Strips, s.In(sys))
			}
			cb.Blanks = append(cb.Blanks, one)
		}
		if b.Part > 0 {
			cb.Part = b.Part.In(sys)
		}
		for _, s := range b.Strips {
			cb.Strips = append(cb.Strips, s.In(sys))
		}
		for _, l := range b.Left {
			cb.Left = append(cb.Left, l.In(sys))
		}
		out.Boards = append(out.Boards, cb)
	}
	for _, j := range a.Joined {
		cj := CutJoin{Piece: j.Piece, Joints: []string{}}
		for _, at := range j.Joints {
			cj.Joints = append(cj.Joints, at.In(sys))
		}
		out.Joined = append(out.Joined, cj)
	}
	for _, u := range a.Unmet {
		out.Unmet = append(out.Unmet, CutUnmet{u.Piece, u.Quantity})
	}
	return out
}

// WriteAnswer writes an answer as JSON with the time it took.
func WriteAnswer(w io.Writer, a cutting.Answer, sys measure.System, took time.Duration) error {
	out := Answer(a, sys)
	ms := float64(took.Microseconds()) / 1000
	out.ElapsedMS = &ms
	return encode(w, out)
}

func encode(w io.Writer, v any) error {
	e := json.NewEncoder(w)
	e.SetEscapeHTML(false)
	e.SetIndent("", "  ")
	return e.Encode(v)
}

// Reasons writes one line for each piece that could not be had.
func Reasons(a cutting.Answer) string {
	var b strings.Builder
	for _, u := range a.Unmet {
		fmt.Fprintf(&b, "%d of piece %s: %s\n", u.Quantity, u.Piece, u.Reason)
	}
	return b.String()
}
