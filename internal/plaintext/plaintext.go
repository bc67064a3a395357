// Package plaintext reads the bytes of text files, whatever encoding they are in.
package plaintext

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"strings"
	"unicode/utf16"
	"unicode/utf8"

	"golang.org/x/text/encoding/charmap"
)

// Decode returns the text of a file: UTF-8, UTF-16 in either byte order with
// or without its mark, or, where it is neither, Latin-1 in the form that Windows
// writes (code page 1252). An error names the line of a NUL, which no text holds.
func Decode(file []byte) (string, error) {
	text, err := inUTF8(file)
	if err != nil {
		return "", err
	}
	if i := strings.IndexByte(text, 0); i >= 0 {
		return "", nulError(1 + strings.Count(text[:i], "\n"))
	}
	return text, nil
}

func nulError(line int) error {
	return fmt.Errorf("line %d holds a NUL character; this is no text file", line)
}

// byteOrder is that of a text in UTF-16.
type byteOrder int

const (
	notUTF16 byteOrder = iota
	littleEndian
	bigEndian
)

// utf16Order returns the byte order of a text in UTF-16, by its mark or by the NUL
// that it has in every second byte of what is Latin in it.
func utf16Order(file []byte) byteOrder {
	switch {
	case bytes.HasPrefix(file, []byte("\xff\xfe")):
		return littleEndian
	case bytes.HasPrefix(file, []byte("\xfe\xff")):
		return bigEndian
	}
	start := file[:min(len(file), 1000)]
	even, odd := 0, 0
	for i, b := range start {
		if b == 0 && i%2 == 0 {
			even++
		} else if b == 0 {
			odd++
		}
	}
	switch {
	case len(start) > 3 && odd > len(start)/4 && even == 0:
		return littleEndian
	case len(start) > 3 && even > len(start)/4 && odd == 0:
		return bigEndian
	}
	return notUTF16
}

// inUTF8 returns the text of a file, NULs and all.
func inUTF8(file []byte) (string, error) {
	switch utf16Order(file) {
	case littleEndian:
		return decode16(bytes.TrimPrefix(file, []byte("\xff\xfe")), binary.LittleEndian)
	case bigEndian:
		return decode16(bytes.TrimPrefix(file, []byte("\xfe\xff")), binary.BigEndian)
	}
	file = bytes.TrimPrefix(file, []byte("\xef\xbb\xbf"))
	if utf8.Valid(file) {
		return string(file), nil
	}
	text, err := charmap.Windows1252.NewDecoder().Bytes(file)
	if err != nil {
		return "", fmt.Errorf("the text is neither UTF-8 nor Latin-1: %w", err)
	}
	return string(text), nil
}

func decode16(file []byte, order binary.ByteOrder) (string, error) {
	if len(file)%2 != 0 {
		return "", fmt.Errorf("the text is in UTF-16 and ends in the middle of a character")
	}
	units := make([]uint16, len(file)/2)
	for i := range units {
		units[i] = order.Uint16(file[2*i:])
	}
	return string(utf16.Decode(units)), nil
}
