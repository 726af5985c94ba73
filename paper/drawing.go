package paper

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"github.com/andybalholm/cascadia"
	"golang.org/x/net/html"
)

// PerPixel is how many millimetres a drawing's pixel is at full size: 96 to the inch (CSS Values 3, 5.2).
const PerPixel = 25.4 / 96

// Drawing sets a drawing at the width of the sheet, or less where it would be higher than most. It goes to
// the next sheet where it has no room.
func (p *Pages) Drawing(svg string, most float64) error {
	w, h, err := extent(svg)
	if err != nil {
		return err
	}
	scale := min(p.Width()/w, most/h)
	p.Room(h * scale)
	err = p.Place(svg, p.Side+(p.Width()-w*scale)/2, p.y, w*scale)
	p.y += h*scale + 2
	return err
}

// High is how high a drawing comes out that is so wide.
func High(svg string, w float64) float64 {
	sw, sh, err := extent(svg)
	if err != nil {
		return 0
	}
	return sh * w / sw
}

var isSVG = cascadia.MustCompile("svg")

func open(svg string) (*html.Node, error) {
	doc, err := html.Parse(strings.NewReader(svg))
	if err != nil {
		return nil, err
	}
	root := cascadia.Query(doc, isSVG)
	if root == nil {
		return nil, fmt.Errorf("no drawing in %.60q", svg)
	}
	return root, nil
}

func attr(n *html.Node, name string) string {
	for _, a := range n.Attr {
		if a.Key == name {
			return a.Val
		}
	}
	return ""
}

// extent is a drawing's width and height in its own pixels.
func extent(svg string) (w, h float64, err error) {
	head := svg[:max(0, strings.Index(svg, ">"))+1]
	root, err := open(head + "</svg>")
	if err != nil {
		return 0, 0, err
	}
	box := strings.Fields(attr(root, "viewBox"))
	if len(box) != 4 {
		return 0, 0, fmt.Errorf("a drawing without a box: %.60q", head)
	}
	return number(box[2], 1), number(box[3], 1), nil
}

// Place sets a drawing with its upper left corner at x and y, w wide, cut at its edges.
func (p *Pages) Place(svg string, x, y, w float64) error {
	root, err := open(svg)
	if err != nil {
		return err
	}
	box := strings.Fields(attr(root, "viewBox"))
	if len(box) != 4 {
		return fmt.Errorf("a drawing without a box: %.60q", svg)
	}
	scale := w / number(box[2], 1)
	p.pdf.ClipRect(x, y, w, scale*number(box[3], 1), false)
	defer p.pdf.ClipEnd()
	m := affine{scale, 0, 0, scale, x - scale*number(box[0], 0), y - scale*number(box[1], 0)}
	s := &setter{p: p, look: style()}
	for c := root.FirstChild; c != nil; c = c.NextSibling {
		s.node(c, m, s.look.of(root, map[string]string{"fill": "#000000", "stroke": "none"}), 1)
	}
	p.pdf.SetDashPattern(nil, 0)
	p.pdf.SetAlpha(1, "Normal")
	p.pdf.SetLineCapStyle("butt")
	p.pdf.SetLineJoinStyle("miter")
	return s.err
}

// affine maps x, y to a x + c y + e, b x + d y + f.
type affine struct{ a, b, c, d, e, f float64 }

func (m affine) at(x, y float64) (float64, float64) { return m.a*x + m.c*y + m.e, m.b*x + m.d*y + m.f }

func (m affine) then(o affine) affine { // o first, then m
	return affine{m.a*o.a + m.c*o.b, m.b*o.a + m.d*o.b, m.a*o.c + m.c*o.d, m.b*o.c + m.d*o.d,
		m.a*o.e + m.c*o.f + m.e, m.b*o.e + m.d*o.f + m.f}
}

func (m affine) scale() float64 { return math.Sqrt(math.Abs(m.a*m.d - m.b*m.c)) }

type setter struct {
	p    *Pages
	look look
	kept map[string]*html.Node // of <defs>, by id
	err  error
}

func (s *setter) fail(format string, args ...any) {
	if s.err == nil {
		s.err = fmt.Errorf(format, args...)
	}
}

func (s *setter) node(n *html.Node, m affine, above map[string]string, faint float64) {
	if n.Type != html.ElementNode {
		return
	}
	now := s.look.of(n, above)
	faint *= number(now["opacity"], 1)
	for _, t := range s.turns(attr(n, "transform")) {
		m = m.then(t)
	}
	num := func(name string) float64 { return number(attr(n, name), 0) }
	switch n.Data {
	case "g", "a":
		for c := n.FirstChild; c != nil; c = c.NextSibling {
			s.node(c, m, now, faint)
		}
	case "path":
		s.paint(attr(n, "d"), m, now, faint)
	case "rect":
		x, y, w, h := num("x"), num("y"), num("width"), num("height")
		s.paint(fmt.Sprintf("M%v %vh%vv%vh%vZ", x, y, w, h, -w), m, now, faint)
	case "circle":
		s.paint(round(num("cx"), num("cy"), num("r"), num("r")), m, now, faint)
	case "ellipse":
		s.paint(round(num("cx"), num("cy"), num("rx"), num("ry")), m, now, faint)
	case "text":
		s.text(n, m, now, faint)
	case "defs": // drawn where it is used
		for c := n.FirstChild; c != nil; c = c.NextSibling {
			if id := attr(c, "id"); id != "" {
				if s.kept == nil {
					s.kept = map[string]*html.Node{}
				}
				s.kept[id] = c
			}
		}
	case "use":
		id := strings.TrimPrefix(attr(n, "href"), "#")
		if s.kept[id] == nil {
			s.fail("a drawing uses %q before it is there", id)
			return
		}
		s.node(s.kept[id], m.then(affine{1, 0, 0, 1, num("x"), num("y")}), now, faint)
	case "title", "style", "desc":
	default:
		s.fail("a drawing has <%s>, which has no place on paper yet", n.Data)
	}
}

// round is a path round a centre: four curves, as near to a circle as curves come (Bezier, 0.5523).
func round(x, y, rx, ry float64) string {
	const k = 0.5522847498
	return fmt.Sprintf("M%v %vC%v %v %v %v %v %vC%v %v %v %v %v %vC%v %v %v %v %v %vC%v %v %v %v %v %vZ",
		x+rx, y,
		x+rx, y+k*ry, x+k*rx, y+ry, x, y+ry,
		x-k*rx, y+ry, x-rx, y+k*ry, x-rx, y,
		x-rx, y-k*ry, x-k*rx, y-ry, x, y-ry,
		x+k*rx, y-ry, x+rx, y-k*ry, x+rx, y)
}

// turns reads translate, scale and rotate.
func (s *setter) turns(words string) (list []affine) {
	for words = strings.TrimSpace(words); words != ""; words = strings.TrimSpace(words) {
		name, rest, ok := strings.Cut(words, "(")
		in, after, closed := strings.Cut(rest, ")")
		if !ok || !closed {
			s.fail("a drawing is turned by %q", words)
			return list
		}
		words = after
		var v []float64
		for _, f := range strings.FieldsFunc(in, func(r rune) bool { return r == ' ' || r == ',' }) {
			v = append(v, number(f, 0))
		}
		for len(v) < 3 {
			v = append(v, math.NaN())
		}
		or := func(x, otherwise float64) float64 {
			if math.IsNaN(x) {
				return otherwise
			}
			return x
		}
		switch strings.TrimSpace(name) {
		case "translate":
			list = append(list, affine{1, 0, 0, 1, v[0], or(v[1], 0)})
		case "scale":
			list = append(list, affine{v[0], 0, 0, or(v[1], v[0]), 0, 0})
		case "rotate":
			sin, cos := math.Sincos(v[0] * math.Pi / 180)
			x, y := or(v[1], 0), or(v[2], 0)
			list = append(list, affine{cos, sin, -sin, cos, x - cos*x + sin*y, y - sin*x - cos*y})
		default:
			s.fail("a drawing is moved by %q", name)
		}
	}
	return list
}

// paint fills a path and draws its line.
func (s *setter) paint(d string, m affine, now map[string]string, faint float64) {
	pdf := s.p.pdf
	fill, fills := hex(now["fill"])
	stroke, strokes := hex(now["stroke"])
	width := number(now["stroke-width"], 1) * m.scale()
	if fills {
		pdf.SetFillColor(fill.r, fill.g, fill.b)
		pdf.SetAlpha(faint*number(now["fill-opacity"], 1), "Normal")
		s.follow(d, m)
		pdf.DrawPath("F")
	}
	if !strokes || width <= 0 {
		return
	}
	pdf.SetDrawColor(stroke.r, stroke.g, stroke.b)
	pdf.SetAlpha(faint*number(now["stroke-opacity"], 1), "Normal")
	pdf.SetLineWidth(width)
	pdf.SetLineCapStyle(orWords(now["stroke-linecap"], "butt"))
	pdf.SetLineJoinStyle(orWords(now["stroke-linejoin"], "miter"))
	var dashes []float64
	for _, f := range strings.FieldsFunc(now["stroke-dasharray"], func(r rune) bool { return r == ' ' || r == ',' }) {
		if v := number(f, 0) * m.scale(); v > 0 {
			dashes = append(dashes, v)
		}
	}
	pdf.SetDashPattern(dashes, 0)
	s.follow(d, m)
	pdf.DrawPath("D")
}

func orWords(s, otherwise string) string {
	if s == "" {
		return otherwise
	}
	return s
}

// follow walks a path (SVG 2, 9.3): M L H V C Q Z, and small ones from where the last ended.
func (s *setter) follow(d string, m affine) {
	pdf := s.p.pdf
	var x, y, x0, y0 float64
	for _, c := range commands(d) {
		v, rel := c.numbers, c.letter >= 'a'
		take := map[byte]int{'m': 2, 'l': 2, 'h': 1, 'v': 1, 'c': 6, 'q': 4, 'z': 0}
		per, known := take[c.letter|0x20]
		if !known || per > 0 && (len(v) == 0 || len(v)%per != 0) || per == 0 && len(v) > 0 {
			s.fail("a drawing has the path %.40q, in which %q is not known here", d, c.letter)
			return
		}
		if per == 0 {
			pdf.ClosePath()
			x, y = x0, y0
			continue
		}
		for i := 0; i < len(v); i += per {
			at := func(k int) (float64, float64) { // the point of numbers k and k+1
				px, py := v[i+k], v[i+k+1]
				if rel {
					px, py = px+x, py+y
				}
				return px, py
			}
			nx, ny := x, y
			switch c.letter | 0x20 {
			case 'm':
				nx, ny = at(0)
				px, py := m.at(nx, ny)
				if i == 0 {
					x0, y0 = nx, ny
					pdf.MoveTo(px, py)
				} else {
					pdf.LineTo(px, py)
				}
			case 'l', 'h', 'v':
				switch c.letter {
				case 'L', 'l':
					nx, ny = at(0)
				case 'H':
					nx = v[i]
				case 'h':
					nx = x + v[i]
				case 'V':
					ny = v[i]
				case 'v':
					ny = y + v[i]
				}
				pdf.LineTo(m.at(nx, ny))
			case 'c':
				ax, ay := at(0)
				bx, by := at(2)
				nx, ny = at(4)
				ax, ay = m.at(ax, ay)
				bx, by = m.at(bx, by)
				px, py := m.at(nx, ny)
				pdf.CurveBezierCubicTo(ax, ay, bx, by, px, py)
			case 'q': // as a cubic one, whose handles are two thirds of the way
				qx, qy := at(0)
				nx, ny = at(2)
				ax, ay := m.at(x+(qx-x)*2/3, y+(qy-y)*2/3)
				bx, by := m.at(nx+(qx-nx)*2/3, ny+(qy-ny)*2/3)
				px, py := m.at(nx, ny)
				pdf.CurveBezierCubicTo(ax, ay, bx, by, px, py)
			}
			x, y = nx, ny
		}
	}
}

type command struct {
	letter  byte
	numbers []float64
}

func commands(d string) (list []command) {
	for i := 0; i < len(d); {
		switch c := d[i]; {
		case c == ' ' || c == ',' || c == '\n':
			i++
		case c >= 'a' && c <= 'z' && c != 'e' || c >= 'A' && c <= 'Z':
			list = append(list, command{letter: c})
			i++
		default:
			n := i + 1
			for n < len(d) && (d[n] >= '0' && d[n] <= '9' || d[n] == '.' || d[n] == 'e' ||
				(d[n] == '-' || d[n] == '+') && d[n-1] == 'e') {
				n++
			}
			v, err := strconv.ParseFloat(d[i:n], 64)
			if err != nil || len(list) == 0 {
				return append(list, command{letter: '?'})
			}
			last := &list[len(list)-1]
			last.numbers = append(last.numbers, v)
			i = n
		}
	}
	return list
}

// text sets words, turned as the drawing turns them; fractions are those of the face.
func (s *setter) text(n *html.Node, m affine, now map[string]string, faint float64) {
	var words strings.Builder
	var gather func(*html.Node)
	gather = func(n *html.Node) {
		for c := n.FirstChild; c != nil; c = c.NextSibling {
			if c.Type == html.TextNode {
				words.WriteString(c.Data)
			}
			gather(c)
		}
	}
	gather(n)
	fill, fills := hex(now["fill"])
	if !fills || faint == 0 {
		return
	}
	pdf := s.p.pdf
	size := number(attr(n, "font-size"), number(now["font-size"], 14)) * m.scale() / point
	s.p.face(number(now["font-weight"], 400) >= 600, size)
	pdf.SetTextColor(fill.r, fill.g, fill.b)
	pdf.SetAlpha(faint*number(now["fill-opacity"], 1), "Normal")
	set := s.p.glyphs(words.String())
	x, y := m.at(number(attr(n, "x"), 0), number(attr(n, "y"), 0))
	switch now["text-anchor"] {
	case "middle":
		x -= pdf.GetStringWidth(set) / 2 * m.a / m.scale()
		y -= pdf.GetStringWidth(set) / 2 * m.b / m.scale()
	case "end":
		x -= pdf.GetStringWidth(set) * m.a / m.scale()
		y -= pdf.GetStringWidth(set) * m.b / m.scale()
	}
	turned := math.Atan2(m.b, m.a) * 180 / math.Pi
	if math.Abs(turned) > 0.01 {
		pdf.TransformBegin()
		pdf.TransformRotate(-turned, x, y)
		defer pdf.TransformEnd()
	}
	pdf.Text(x, y, set)
}
