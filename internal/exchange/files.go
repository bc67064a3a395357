package exchange

import (
	"net/url"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Attachment is the header that makes an answer a file, called by a title (RFC 6266): its letters stay,
// and who knows only ASCII gets the rest of them.
func Attachment(title, extension string) string {
	name := FileName(title, 100)
	name += "." + extension
	plain := strings.Map(func(r rune) rune {
		if r > unicode.MaxASCII {
			return '_'
		}
		return r
	}, name)
	if plain == name {
		return `attachment; filename="` + name + `"`
	}
	return `attachment; filename="` + plain + `"; filename*=UTF-8''` + strings.ReplaceAll(url.QueryEscape(name), "+", "%20")
}

// FileName makes a title the name of a file, without its extension, of so many characters at most: whatever stands in it
// leads into no other folder, and is a name on every system.
func FileName(title string, most int) string {
	name := strings.Map(func(r rune) rune {
		switch {
		case unicode.IsControl(r) || r == '/' || r == '\\' || r == utf8.RuneError:
			return '-'
		case strings.ContainsRune(":*?<>|", r):
			return -1
		case r == '"':
			return '\''
		}
		return r
	}, title)
	if runes := []rune(name); len(runes) > most {
		name = string(runes[:most])
	}
	if name = strings.Trim(name, " ."); name == "" {
		return "untitled"
	}
	return name
}
