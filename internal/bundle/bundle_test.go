package bundle

import (
	"bytes"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/bundle/bundletest"
)

func TestRead(t *testing.T) {
	for name, test := range map[string]struct {
		body []byte
		want [][2]string // name and contents
	}{
		"a problem": {[]byte(` {"grund": 1}`), [][2]string{{"", ` {"grund": 1}`}}},
		"no JSON":   {[]byte(`grund`), [][2]string{{"", `grund`}}}, // which says itself what is wrong
		"a list": {[]byte("\ufeff [{\"a\": [1]}, 2 ]\n"),
			[][2]string{{"problem 1 of the list", `{"a": [1]}`}, {"problem 2 of the list", `2`}}},
		"a ZIP": {bundletest.ZIP(t, [2]string{"week 2/b.JSON", "B"}, [2]string{"a.json", "A"}),
			[][2]string{{"a.json", "A"}, {"week 2/b.JSON", "B"}}},
		"beside others": {bundletest.ZIP(t, [2]string{"__MACOSX/a.json", ""}, [2]string{".x/a.json", ""}, [2]string{"a.txt", ""},
			[2]string{"c.json", "C"}), [][2]string{{"c.json", "C"}}},
	} {
		t.Run(name, func(t *testing.T) {
			files, err := Read(test.body)
			require.NoError(t, err)
			var got [][2]string
			for _, file := range files {
				contents, err := file.Read()
				require.NoError(t, err)
				got = append(got, [2]string{file.Name, string(contents)})
			}
			assert.Equal(t, test.want, got)
		})
	}
}

func TestWhatIsRefused(t *testing.T) {
	many := make([][2]string, MaxProblems+1)
	for i := range many {
		many[i] = [2]string{fmt.Sprintf("%d.json", i), "{}"}
	}
	for name, test := range map[string]struct {
		body []byte
		want string
	}{
		"an empty ZIP":        {bundletest.ZIP(t), "no problem file"},
		"a ZIP of texts":      {bundletest.ZIP(t, [2]string{"a.txt", "x"}), "no problem file"},
		"an empty list":       {[]byte("[]"), "no problem file"},
		"half a ZIP":          {bundletest.ZIP(t, many[0])[:40], "cannot be read"},
		"half a list":         {[]byte(`[{}, {"a": `), "/1: the list is not JSON"},
		"a list that goes on": {[]byte(`[{}] {}`), "is not JSON"},
		"too many files":      {bundletest.ZIP(t, many...), "more than 200"},
		"too long a list":     {[]byte("[" + strings.Repeat("1,", MaxProblems) + "1]"), "more than 200"},
	} {
		t.Run(name, func(t *testing.T) {
			_, err := Read(test.body)
			assert.ErrorContains(t, err, test.want)
		})
	}
}

// A small archive may unpack to any size: no more of a file is read than it may have.
func TestAFileThatUnpacksToTooMuch(t *testing.T) {
	body := bundletest.ZIP(t, [2]string{"a.json", strings.Repeat(" ", MaxFile+1)}, [2]string{"b.json", "{}"})
	assert.Less(t, len(body), 1<<20)
	files, err := Read(body)
	require.NoError(t, err)
	_, err = files[0].Read()
	assert.ErrorContains(t, err, "more than 16 MiB")
	_, err = files[1].Read()
	assert.NoError(t, err)
}

func TestADamagedFile(t *testing.T) {
	body := bundletest.ZIP(t, [2]string{"a.json", "stored as it is, and then changed"})
	files, err := Read(bytes.Replace(body, body[36:44], []byte("\xff\xff\xff\xff\xff\xff\xff\xff"), 1))
	require.NoError(t, err)
	_, err = files[0].Read()
	assert.ErrorContains(t, err, "damaged")
}

func FuzzRead(f *testing.F) {
	f.Add([]byte("PK\x03\x04"))
	f.Add([]byte(`[{"grund": 1}]`))
	f.Fuzz(func(t *testing.T, body []byte) {
		files, err := Read(body)
		if err != nil {
			return
		}
		assert.LessOrEqual(t, len(files), MaxProblems)
		for _, file := range files {
			_, _ = file.Read()
		}
	})
}
