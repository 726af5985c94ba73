package paper

import (
	"cmp"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"

	"chamfer/draw"

	"github.com/andybalholm/cascadia"
	"golang.org/x/net/html"
)

// A drawing's style is that of the pages; what it is on is white here.
var tokens = map[string]string{"--paper": "#ffffff", "--leaf": "#ffffff"}

// rule is one selector of the style sheet with what it sets.
type rule struct {
	sel   cascadia.Sel
	spec  cascadia.Specificity
	order int
	sets  [][2]string
}

// look is the style sheet of drawings: rules by the class of what they are about.
type look struct {
	byClass map[string][]rule
	tokens  map[string]string
}

var (
	comment = regexp.MustCompile(`(?s)/\*.*?\*/`)
	block   = regexp.MustCompile(`([^{}]+)\{([^{}]*)\}`)
	subject = regexp.MustCompile(`\.([a-z-]+)[^ ]*$`)
)

// style is the look, read once: of rules that hold for what is on paper, not under a pointer.
var style = sync.OnceValue(func() look {
	l := look{map[string][]rule{}, map[string]string{}}
	for i, m := range block.FindAllStringSubmatch(comment.ReplaceAllString(draw.Look, ""), -1) {
		var sets [][2]string
		for set := range strings.SplitSeq(m[2], ";") {
			if name, value, ok := strings.Cut(set, ":"); ok {
				sets = append(sets, [2]string{strings.TrimSpace(name), strings.TrimSpace(value)})
			}
		}
		for words := range strings.SplitSeq(m[1], ",") {
			words = strings.TrimSpace(words)
			if words == ":root" {
				for _, s := range sets {
					l.tokens[s[0]] = s[1]
				}
				continue
			}
			if strings.Contains(words, ":") {
				continue
			}
			sel, err := cascadia.Parse(words)
			if err != nil {
				panic("the look of drawings: " + words + ": " + err.Error())
			}
			class := ""
			if of := subject.FindStringSubmatch(words); of != nil {
				class = of[1]
			}
			l.byClass[class] = append(l.byClass[class], rule{sel, sel.Specificity(), i, sets})
		}
	}
	for name, value := range tokens {
		l.tokens[name] = value
	}
	return l
})

// inherited is what an element has from the one around it unless it says otherwise.
var inherited = []string{"fill", "stroke", "stroke-width", "stroke-dasharray", "stroke-linecap", "stroke-linejoin",
	"fill-opacity", "stroke-opacity", "font-size", "font-weight", "text-anchor"}

// of is what holds for an element: what it inherits, its attributes, then the rules, the most particular
// last.
func (l look) of(n *html.Node, above map[string]string) map[string]string {
	now := map[string]string{}
	for _, name := range inherited {
		if v, ok := above[name]; ok {
			now[name] = v
		}
	}
	var rules []rule
	for _, a := range n.Attr {
		switch {
		case a.Key == "class":
			for class := range strings.FieldsSeq(a.Val) {
				rules = append(rules, l.byClass[class]...)
			}
		case slices.Contains(inherited, a.Key) || a.Key == "opacity":
			now[a.Key] = a.Val
		}
	}
	rules = append(rules, l.byClass[""]...)
	rules = slices.DeleteFunc(rules, func(r rule) bool { return !r.sel.Match(n) })
	slices.SortStableFunc(rules, func(a, b rule) int {
		if a.spec != b.spec {
			if a.spec.Less(b.spec) {
				return -1
			}
			return 1
		}
		return cmp.Compare(a.order, b.order)
	})
	for _, r := range rules {
		for _, s := range r.sets {
			now[s[0]] = s[1]
		}
	}
	for name, v := range now {
		if token, ok := strings.CutPrefix(v, "var("); ok {
			now[name] = l.tokens[strings.TrimSuffix(token, ")")]
		}
	}
	return now
}

// number reads a number of a style, without its px.
func number(s string, otherwise float64) float64 {
	v, err := strconv.ParseFloat(strings.TrimSuffix(s, "px"), 64)
	if err != nil {
		return otherwise
	}
	return v
}
