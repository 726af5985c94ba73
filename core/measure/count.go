package measure

import (
	"fmt"
	"strings"
)

// Count writes how many there are of something: "1 strip", "3 strips", "2 boxes of 50",
// "1 joint, face to post". The first word of what is counted takes the plural.
func Count(n int, one string) string {
	if n == 1 {
		return "1 " + one
	}
	word, rest := one, ""
	if i := strings.IndexAny(one, " ,"); i >= 0 {
		word, rest = one[:i], one[i:]
	}
	if many, ok := irregular[word]; ok {
		return fmt.Sprintf("%d %s%s", n, many, rest)
	}
	for _, end := range []string{"x", "s", "ch", "sh"} {
		if strings.HasSuffix(word, end) {
			return fmt.Sprintf("%d %ses%s", n, word, rest)
		}
	}
	if strings.HasSuffix(word, "y") && !strings.ContainsAny(word[max(0, len(word)-2):len(word)-1], "aeiou") {
		return fmt.Sprintf("%d %sies%s", n, word[:len(word)-1], rest)
	}
	return fmt.Sprintf("%d %ss%s", n, word, rest)
}

// irregular are words that take another plural.
var irregular = map[string]string{"foot": "feet", "leaf": "leaves", "half": "halves"}
