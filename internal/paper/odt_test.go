package paper_test

import (
	"archive/zip"
	"bytes"
	"encoding/xml"
	"errors"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/paper"
	"grund/internal/procedure"
	"grund/internal/procedure/proctest"
)

// parts unpacks an OpenDocument text.
func parts(t *testing.T, s *paper.Sheet) (all map[string]string, first *zip.File) {
	t.Helper()
	var out bytes.Buffer
	require.NoError(t, paper.ODT(&out, s), s.Title)
	z, err := zip.NewReader(bytes.NewReader(out.Bytes()), int64(out.Len()))
	require.NoError(t, err)
	all = map[string]string{}
	for _, f := range z.File {
		part, err := f.Open()
		require.NoError(t, err)
		text, err := io.ReadAll(part)
		require.NoError(t, err)
		require.NotContains(t, all, f.Name)
		all[f.Name] = string(text)
	}
	return all, z.File[0]
}

// As the standard wants it (OASIS OpenDocument 1.3, part 2): the type first and as it is, a list of all parts, well-formed
// XML, styles that are there. Formulas are objects of MathML, pictures are there twice.
func TestOpenDocument(t *testing.T) {
	used := regexp.MustCompile(`(?:text|table|draw):style-name="([^"]+)"`)
	listed := regexp.MustCompile(`manifest:full-path="([^"]+)"`)
	linked := regexp.MustCompile(`xlink:href="(?:\./)?([^"]+)"`)
	for name, p := range proctest.DemoProblems(t) {
		if strings.Contains(name, " ") {
			continue
		}
		s, err := procedure.Work(t.Context(), p)
		require.NoError(t, err)
		all, first := parts(t, &paper.Sheet{Head: paper.Head{Title: name + " <&>"}, Question: p.Question, Solution: s, What: paper.Full})
		assert.Equal(t, "mimetype", first.Name)
		assert.Equal(t, zip.Store, first.Method)
		assert.Equal(t, "application/vnd.oasis.opendocument.text", all["mimetype"])
		for part, text := range all {
			if strings.HasSuffix(part, ".xml") || strings.HasSuffix(part, ".svg") {
				d := xml.NewDecoder(strings.NewReader(text))
				for {
					if _, err := d.Token(); err != nil {
						require.ErrorIs(t, err, io.EOF, "%s: %s", name, part)
						break
					}
				}
			}
		}
		inList := map[string]bool{}
		for _, match := range listed.FindAllStringSubmatch(all["META-INF/manifest.xml"], -1) {
			inList[match[1]] = true
		}
		for part := range all {
			assert.True(t, inList[part] || part == "mimetype" || part == "META-INF/manifest.xml", "%s: %s is not listed", name, part)
		}
		for _, match := range used.FindAllStringSubmatch(all["content.xml"], -1) {
			assert.Contains(t, all["styles.xml"]+all["content.xml"], `style:name="`+match[1]+`"`, name)
		}
		formulas := 0
		for _, match := range linked.FindAllStringSubmatch(all["content.xml"], -1) {
			if strings.HasPrefix(match[1], "Object") {
				formulas++
				assert.Contains(t, all[match[1]+"/content.xml"], "<math", name)
				assert.True(t, inList[match[1]+"/"], "%s: %s", name, match[1])
				continue
			}
			assert.NotEmpty(t, all[match[1]], "%s: %s", name, match[1])
		}
		assert.GreaterOrEqual(t, formulas, 2, name)
		assert.Equal(t, strings.Count(all["content.xml"], ".svg"), strings.Count(all["content.xml"], ".png"), name)
	}
}

// A free office suite reads what is written, where one is installed.
func TestAnOfficeSuiteReadsIt(t *testing.T) {
	office, err := exec.LookPath("soffice")
	if errors.Is(err, exec.ErrNotFound) {
		t.Skip("no office suite is installed")
	}
	s, err := procedure.Work(t.Context(), proctest.DemoProblems(t)["two-berths"])
	require.NoError(t, err)
	folder := t.TempDir()
	file, err := os.Create(filepath.Join(folder, "berths.odt"))
	require.NoError(t, err)
	require.NoError(t, paper.ODT(file, &paper.Sheet{Head: paper.Head{Title: "Two berths"}, Solution: s, What: paper.Full}))
	require.NoError(t, file.Close())
	command := exec.CommandContext(t.Context(), office, "-env:UserInstallation=file://"+folder+"/profile", "--headless",
		"--convert-to", "txt:Text", "--outdir", folder, file.Name())
	said, err := command.CombinedOutput()
	require.NoError(t, err, string(said))
	text, err := os.ReadFile(filepath.Join(folder, "berths.txt"))
	require.NoError(t, err)
	assert.Contains(t, string(text), "do not show that mean loading time differs")
}
