package plaintext

import (
	"bytes"
	"io"
	"unicode/utf8"

	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"
	"golang.org/x/text/transform"
)

// reader turns a file's bytes into UTF-8 as Decode does, but as they come:
// bytes that are no UTF-8 are taken for Latin-1 one by one.
type reader struct {
	source io.Reader
	buffer []byte
	kept   int    // bytes at the start of buffer that wait for the rest of a character
	out    []byte // decoded, not yet read
	line   int
	err    error
}

// NewReader returns a reader of the text of a file as UTF-8, of which the start has been looked at and is read
// again.
func NewReader(file io.Reader, start []byte) io.Reader {
	little, big := unicode.UTF16(unicode.LittleEndian, unicode.UseBOM), unicode.UTF16(unicode.BigEndian, unicode.UseBOM)
	switch utf16Order(start) {
	case notUTF16:
		if mark := []byte("\ufeff"); bytes.HasPrefix(start, mark) {
			_, _ = io.ReadFull(file, mark) // it was read before
		}
	case littleEndian:
		file = transform.NewReader(file, little.NewDecoder())
	case bigEndian:
		file = transform.NewReader(file, big.NewDecoder())
	}
	return &reader{source: file, buffer: make([]byte, 256<<10), line: 1}
}

// Read gives decoded text.
func (t *reader) Read(p []byte) (int, error) {
	for len(t.out) == 0 {
		if t.err != nil {
			return 0, t.err
		}
		n, err := t.source.Read(t.buffer[t.kept:])
		t.err = err
		t.decode(t.buffer[:t.kept+n])
	}
	n := copy(p, t.out)
	t.out = t.out[n:]
	return n, nil
}

func (t *reader) decode(chunk []byte) {
	t.kept = 0
	var rest []byte
	if t.err == nil { // a character may go on in the next chunk
		for back := 1; back < utf8.UTFMax && back <= len(chunk); back++ {
			if b := chunk[len(chunk)-back]; utf8.RuneStart(b) {
				if !utf8.FullRune(chunk[len(chunk)-back:]) {
					rest = append(rest, chunk[len(chunk)-back:]...)
					chunk = chunk[:len(chunk)-back]
				}
				break
			}
		}
	}
	if i := bytes.IndexByte(chunk, 0); i >= 0 {
		t.err = nulError(t.line + bytes.Count(chunk[:i], []byte("\n")))
		return
	}
	t.line += bytes.Count(chunk, []byte("\n"))
	t.out = append(t.out[:0:0], chunk...)
	if !utf8.Valid(chunk) {
		t.out = mixed(chunk)
	}
	t.kept = copy(t.buffer, rest)
}

// mixed decodes bytes of which some are UTF-8 and others Latin-1 (code page 1252).
func mixed(chunk []byte) []byte {
	var out []byte
	for len(chunk) > 0 {
		r, size := utf8.DecodeRune(chunk)
		if r == utf8.RuneError && size == 1 {
			r = charmap.Windows1252.DecodeByte(chunk[0])
		}
		out = utf8.AppendRune(out, r)
		chunk = chunk[size:]
	}
	return out
}
