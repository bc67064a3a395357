package procedure_test

import (
	"errors"
	"regexp"
	"strings"
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/problem"
	"grund/internal/procedure"
	"grund/internal/procedure/proctest"
)

// inScripts finds what belongs into files and scripts, and into no text that people read: ids of procedures and
// options that are no words of a textbook, and pointers into the problem file.
func inScripts() *regexp.Regexp {
	textbook := map[string]bool{"rank-sum": true, "signed-rank": true, "normality": true, "correlation": true}
	var ids []string
	for _, d := range procedure.Descriptions() {
		if !textbook[d.ID] {
			ids = append(ids, regexp.QuoteMeta(d.ID))
		}
		for _, o := range d.Options {
			if strings.Contains(o.ID, "_") {
				ids = append(ids, o.ID)
			}
		}
	}
	return regexp.MustCompile(`\b(` + strings.Join(ids, "|") + `)\b|/(data|roles|options|tail|claim)/`)
}

// read collects the texts of a document that people read.
func read(value any, field string, texts *[]string) {
	switch value := value.(type) {
	case string:
		switch field {
		case "words", "says", "title", "label", "key", "reason", "conclusion", "report", "rounding", "compare", "how", "assumes", "asks",
			"notes", "also_called", "test", "reads", "instead":
			*texts = append(*texts, value)
		}
	case []any:
		for _, each := range value {
			read(each, field, texts)
		}
	case map[string]any:
		for name, each := range value {
			read(each, name, texts)
		}
	}
}

// No text that people read names a procedure or an option by its id, or a place in the file.
func TestTextsHoldNoIDs(t *testing.T) {
	scripts := inScripts()
	check := func(what string, document any) {
		file, err := json.Marshal(document)
		require.NoError(t, err)
		var tree any
		require.NoError(t, json.Unmarshal(file, &tree))
		var texts []string
		read(tree, "", &texts)
		require.NotEmpty(t, texts, what)
		for _, text := range texts {
			assert.Empty(t, scripts.FindString(text), "%s: %s", what, text)
		}
	}
	check("descriptions", procedure.Descriptions())
	refused := 0
	for name, p := range proctest.DemoProblems(t) {
		s, err := procedure.Work(t.Context(), p)
		require.NoError(t, err, name)
		check(name, s)
		// What each procedure says of data that are not for it, without roles and with these.
		for _, d := range procedure.Descriptions() {
			for _, set := range [][]problem.Set{
				{{Pointer: "/procedure", Value: d.ID}},
				{{Pointer: "/procedure", Value: d.ID}, {Pointer: "/roles", Value: map[string]any{}}, {Pointer: "/options", Value: map[string]any{}}},
				{{Pointer: "/procedure", Value: d.ID}, {Pointer: "/tail", Value: "left"}},
			} {
				other, err := problem.Apply(p, set)
				require.NoError(t, err)
				_, err = procedure.Work(t.Context(), other)
				var mistakes problem.Errors
				if !errors.As(err, &mistakes) {
					continue
				}
				for _, m := range mistakes {
					if strings.HasPrefix(m.Says, "there is no") {
						continue // a name of the file itself, which no form writes
					}
					refused++
					assert.Empty(t, scripts.FindString(m.Says+" "+m.Instead), "%s by %s: %s", name, d.ID, m.Error())
				}
			}
		}
	}
	assert.Greater(t, refused, 300)
}
