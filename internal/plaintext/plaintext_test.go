package plaintext

import (
	"io"
	"strings"
	"testing"
	"testing/iotest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestDecodeAndReadAreTheSame(t *testing.T) {
	for file, want := range map[string]string{
		"pier;Môle\n":                          "pier;Môle\n",
		"\xef\xbb\xbfpier":                     "pier",
		"M\xf4le":                              "Môle",
		"\xff\xfeM\x00\xf4\x00l\x00e\x00":      "Môle",
		"\xfe\xff\x00M\x00\xf4\x00l\x00e":      "Môle",
		"p\x00i\x00e\x00r\x00;\x003\x00\n\x00": "pier;3\n",
		"":                                     "",
		"\x93quoted\x94":                       "“quoted”",
	} {
		text, err := Decode([]byte(file))
		require.NoError(t, err, file)
		assert.Equal(t, want, text, file)
		read, err := io.ReadAll(NewReader(iotest.OneByteReader(strings.NewReader(file)), []byte(file)))
		require.NoError(t, err, file)
		assert.Equal(t, want, strings.TrimPrefix(string(read), "\ufeff"), file)
	}
	_, err := Decode([]byte("one\ntwo\x00"))
	assert.ErrorContains(t, err, "line 2 holds a NUL")
	_, err = io.ReadAll(NewReader(strings.NewReader("one\ntwo\x00"), []byte("one")))
	assert.ErrorContains(t, err, "line 2 holds a NUL")
}
