package web

import "bytes"

// fractions sets every 1/2 in a page's text as a true fraction. The type face
// turns all digits of a text into fraction digits where it is told to, so each
// fraction is wrapped on its own. Tags, drawings (which wrap their own),
// scripts and titles are left alone.
func fractions(page []byte) []byte {
	var out bytes.Buffer
	out.Grow(len(page) + len(page)/20)
	skip := []byte(nil) // closing tag to wait for
	for len(page) > 0 {
		open := bytes.IndexByte(page, '<')
		if open < 0 {
			open = len(page)
		}
		if skip == nil {
			wrap(&out, page[:open])
		} else {
			out.Write(page[:open])
		}
		page = page[open:]
		end := bytes.IndexByte(page, '>')
		if end < 0 {
			out.Write(page)
			break
		}
		tag := page[:end+1]
		out.Write(tag)
		page = page[end+1:]
		switch {
		case skip != nil:
			if bytes.HasPrefix(tag, skip) {
				skip = nil
			}
		default:
			for _, name := range []string{"svg", "title", "script", "style", "textarea", "option"} {
				if bytes.HasPrefix(tag, []byte("<"+name)) {
					skip = []byte("</" + name)
				}
			}
		}
	}
	return out.Bytes()
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
