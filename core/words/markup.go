package words

import "bytes"

// Markup says the texts of a page or a drawing, and what is read of its tags. Scripts, what
// is typed, and whatever is marked with data-own are left alone, as are the names in own,
// which stand as they do in markup.
func (s Speech) Markup(page []byte, own ...string) []byte {
	text := func(out *bytes.Buffer, text []byte) {
		if len(bytes.TrimSpace(text)) == 0 {
			out.Write(text)
			return
		}
		out.WriteString(s.Say(string(text), own...))
	}
	tag := func(out *bytes.Buffer, tag []byte) { s.tag(out, tag, own) }
	return Rewrite(page, text, tag, func(name string, tag []byte) bool {
		switch name {
		case "script", "style", "textarea":
			return true
		}
		return bytes.Contains(tag, []byte(mine))
	})
}

// mine marks what people wrote themselves.
const mine = " data-own"

// read are the attributes that are read by people.
var read = []string{` aria-label="`, ` title="`, ` placeholder="`, ` alt="`}

// tag writes a tag with its attributes that are read said.
func (s Speech) tag(out *bytes.Buffer, tag []byte, own []string) {
	if bytes.Contains(tag, []byte(mine)) {
		out.Write(tag)
		return
	}
	if bytes.HasPrefix(tag, []byte("<html")) {
		tag = bytes.Replace(tag, []byte(`lang="en"`), []byte(`lang="`+s.Lang()+`"`), 1)
	}
	for _, name := range read {
		at := bytes.Index(tag, []byte(name))
		if at < 0 {
			continue
		}
		at += len(name)
		if end := bytes.IndexByte(tag[at:], '"'); end >= 0 {
			said := s.Say(string(tag[at:at+end]), own...)
			tag = append(append(append([]byte{}, tag[:at]...), said...), tag[at+end:]...)
		}
	}
	out.Write(tag)
}

// Rewrite writes a page's texts anew, and its tags where that is asked for. What lies in
// elements that are to be passed over is left alone.
func Rewrite(page []byte, text, tag func(*bytes.Buffer, []byte), pass func(name string, tag []byte) bool) []byte {
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
