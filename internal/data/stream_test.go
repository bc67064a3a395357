package data

import (
	"bytes"
	"fmt"
	"io"
	"strings"
	"testing"
	"testing/iotest"
	"unicode/utf16"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// streamed reads a file in blocks and puts the columns together again.
func streamed(t *testing.T, file io.Reader, blockRows int) (*Stream, [][]string) {
	t.Helper()
	s, err := NewStream(t.Context(), "long", file, blockRows)
	require.NoError(t, err)
	var columns [][]string
	for rows := 0; ; {
		block, err := s.Next()
		if err == io.EOF {
			assert.Equal(t, rows, s.Rows())
			return s, columns
		}
		require.NoError(t, err)
		for i, cells := range block {
			if i == len(columns) {
				columns = append(columns, make([]string, rows))
			}
			assert.LessOrEqual(t, len(cells), blockRows)
			columns[i] = append(columns[i], cells...)
		}
		rows += len(block[0])
	}
}

// longText has more than is looked at before reading, with a blank row in the
// middle, three at the end and a letter outside ASCII late in the file.
func longText() (text string, names, minutes []string) {
	var out strings.Builder
	out.WriteString("name;minutes\r\n")
	for i := range 90_000 {
		name, minute := fmt.Sprintf("crossing %d", i), fmt.Sprintf("%d,%d", i%60, i%10)
		switch i {
		case 50_000:
			name, minute = "", ""
		case 80_000:
			name = "Løvøya"
		}
		names, minutes = append(names, name), append(minutes, minute)
		fmt.Fprintf(&out, "%s;%s\r\n", name, minute)
	}
	out.WriteString(";\r\n;\r\n;\r\n")
	return out.String(), names, minutes
}

func TestStream(t *testing.T) {
	text, names, minutes := longText()
	units := utf16.Encode([]rune(text))
	little, big := []byte{0xff, 0xfe}, []byte{0xfe, 0xff}
	for _, u := range units {
		little, big = append(little, byte(u), byte(u>>8)), append(big, byte(u>>8), byte(u))
	}
	for name, file := range map[string][]byte{
		"UTF-8":                   []byte(text),
		"UTF-8 with a mark":       []byte("\ufeff" + text),
		"UTF-16 little-endian":    little,
		"UTF-16 big-endian":       big,
		"Latin-1":                 []byte(strings.ReplaceAll(text, "ø", "\xf8")),
		"UTF-16 without its mark": little[2:],
	} {
		t.Run(name, func(t *testing.T) {
			s, columns := streamed(t, bytes.NewReader(file), 4096)
			require.Len(t, columns, 2)
			assert.Equal(t, []string{"name", "minutes"}, []string{s.Set().Columns[0].Name, s.Set().Columns[1].Name})
			assert.Equal(t, names, columns[0])
			assert.Equal(t, minutes, columns[1])
		})
	}
	t.Run("in small pieces", func(t *testing.T) {
		_, columns := streamed(t, iotest.HalfReader(strings.NewReader(text)), 1000)
		assert.Equal(t, names, columns[0])
	})
}

func TestStreamOfAShortFile(t *testing.T) {
	_, columns := streamed(t, strings.NewReader("pier,n\nMole,1\nQuarry,2\nMole,3\n"), 2)
	assert.Equal(t, [][]string{{"Mole", "Quarry", "Mole"}, {"1", "2", "3"}}, columns)
}

func TestStreamGrowsWider(t *testing.T) {
	text := "a,b\n" + strings.Repeat("1,2\n", 400_000) + "1,2,3\n"
	s, columns := streamed(t, strings.NewReader(text), 4096)
	require.Len(t, columns, 3)
	assert.Len(t, s.Set().Columns, 3)
	assert.Equal(t, "3", columns[2][400_000])
	assert.Len(t, columns[2], 400_001)
}

func TestStreamRefuses(t *testing.T) {
	long := "a,b\n" + strings.Repeat("1,2\n", 400_000)
	for name, c := range map[string]struct{ text, want string }{
		"a quotation mark": {long + "1,\"2\n3,4\n", "row 400002"},
		"a NUL":            {long + "1,\x002\n", "line 400002"},
		"many columns":     {long + strings.Repeat("1,", 5000) + "\n", "row 400002 has 5001 columns"},
		"nothing":          {" \n", "nothing in it"},
		"white space":      {strings.Repeat(" \n", 600_000), "nothing in it"},
	} {
		t.Run(name, func(t *testing.T) {
			s, err := NewStream(t.Context(), "", strings.NewReader(c.text), 4096)
			for err == nil {
				_, err = s.Next()
			}
			assert.ErrorContains(t, err, c.want)
		})
	}
}
