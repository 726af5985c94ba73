package web

import "bytes"

// fractions sets every 1/2 in a page's text as a true fraction. The type face
// turns all digits of a text into fraction digits where it is told to, so each
// fraction is wrapped on its own. Tags, drawings (which wrap their own),
// scripts and titles are left alone.
func fractions(page []byte) []byte {
	return rewritten(page, wrap, nil, func(name string, _ []byte) bool {
		switch name {
		case "svg", "title", "script", "style", "textarea", "option":
			return true
		}
		return false
	})
}

// rewritten is a page whose texts, and tags where that is asked for, are written anew. What
// lies in the elements that are to be passed over is left alone.
func rewritten(page []byte, text, tag func(*bytes.Buffer, []byte), pass func(name string, tag []byte) bool) []byte {
	var out bytes.Buffer
	out.Grow(len(page) + len(page)/20)
	for len(page) > 0 {
		open := bytes.IndexByte(page, '<')
		if open < 0 {
			open = len(page)
		}
		text(&out, page[:open])
		page = page[open:]
		end := tagEnd(page)
		if end < 0 {
			out.Write(page)
			break
		}
		whole := page[:end+1]
		page = page[end+1:]
		if tag != nil {
			tag(&out, whole)
		} else {
			out.Write(whole)
		}
		name := string(tagName(whole))
		if !pass(name, whole) {
			continue
		}
		if at := bytes.Index(page, []byte("</"+name)); at >= 0 {
			out.Write(page[:at])
			page = page[at:]
		}
	}
	return out.Bytes()
}

// tagEnd is where the tag that a page begins with ends, -1 where it does not: an angle
// between quotes is none.
func tagEnd(page []byte) int {
	quote := byte(0)
	for i, b := range page {
		switch {
		case quote != 0:
			if b == quote {
				quote = 0
			}
		case b == '"' || b == '\'':
			quote = b
		case b == '>':
			return i
		}
	}
	return -1
}

// tagName is the name of a tag, with its stroke where it closes.
func tagName(tag []byte) []byte {
	end := bytes.IndexAny(tag, " \n\t>")
	return tag[1:max(1, end)]
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
