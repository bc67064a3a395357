package paper

import (
	"fmt"
	"io/fs"
)

// The letters that the fonts' parts have, as the packages that they come from say.
const (
	latin = "U+0000-00FF,U+0131,U+0152-0153,U+02BB-02BC,U+02C6,U+02DA,U+02DC,U+0304,U+0308,U+0329,U+2000-206F,U+20AC,U+2122,U+2191," +
		"U+2193,U+2212,U+2215,U+FEFF,U+FFFD"
	greek = "U+0370-0377,U+037A-037F,U+0384-038A,U+038C,U+038E-03A1,U+03A3-03FF"
)

// FontsIn returns the fonts of the built interface that a document is set in; none of one that is not built.
func FontsIn(dist fs.FS) ([]Font, error) {
	var fonts []Font
	for _, f := range []struct {
		file string
		font Font
	}{
		{"source-serif-4-latin-wght-normal", Font{Family: "Source Serif 4", Range: latin}},
		{"source-serif-4-latin-wght-italic", Font{Family: "Source Serif 4", Italic: true, Range: latin}},
		{"source-serif-4-greek-wght-normal", Font{Family: "Source Serif 4", Range: greek}},
		{"source-serif-4-greek-wght-italic", Font{Family: "Source Serif 4", Italic: true, Range: greek}},
		{"stix-two-math-latin-400-normal", Font{Family: "STIX Two Math", Range: "U+0-10FFFF"}},
		{"atkinson-hyperlegible-next-latin-wght-normal", Font{Family: "Atkinson Hyperlegible Next", Range: latin}},
	} {
		names, err := fs.Glob(dist, "assets/"+f.file+"-*.woff2")
		if err != nil || len(names) == 0 {
			continue
		}
		if f.font.Data, err = fs.ReadFile(dist, names[0]); err != nil {
			return nil, fmt.Errorf("reading a font: %w", err)
		}
		fonts = append(fonts, f.font)
	}
	return fonts, nil
}
