package web

import (
	"bytes"

	"chamfer/core/words"
)

// fractions sets every 1/2 in a page's text as a true fraction. The type face
// turns all digits of a text into fraction digits where it is told to, so each
// fraction is wrapped on its own. Tags, drawings (which wrap their own),
// scripts and titles are left alone.
func fractions(page []byte) []byte {
	return words.Rewrite(page, wrap, nil, func(name string, _ []byte) bool {
		switch name {
		case "svg", "title", "script", "style", "textarea", "option":
			return true
		}
		return false
	})
}

// wrap copies text with every run of digits, slash, digits in a span.
func wrap(out *bytes.Buffer, text []byte) {
	digit := func(i int) bool { return i >= 0 && i < len(text) && text[i] >= '0' && text[i] <= '9' }
	for {
		at := -1
		for i := 1; i+1 < len(text); i++ {
			if text[i] == '/' && digit(i-1) && digit(i+1) {
				at = i
				break
			}
		}
		if at < 0 {
			out.Write(text)
			return
		}
		from, to := at-1, at+2
		for digit(from - 1) {
			from--
		}
		for digit(to) {
			to++
		}
		out.Write(text[:from])
		out.WriteString(`<span class="fr">`)
		out.Write(text[from:to])
		out.WriteString(`</span>`)
		text = text[to:]
	}
}
