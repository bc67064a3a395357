package working

import (
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"os"
	"reflect"
	"strings"
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// kindOf is the kind of a block as it stands in JSON.
func kindOf(t *testing.T, b Block) string {
	t.Helper()
	text, err := json.Marshal(b)
	require.NoError(t, err)
	var written struct {
		Kind string `json:"kind"`
	}
	require.NoError(t, json.Unmarshal(text, &written))
	require.NotEmpty(t, written.Kind)
	return written.Kind
}

// Blocks has every type with the methods of a block, and each of them is known wherever blocks
// are drawn or described. (Those who check and write them are methods, which no block lacks.)
func TestEveryKindOfBlock(t *testing.T) {
	parsed, err := parser.ParseFile(token.NewFileSet(), "block.go", nil, 0)
	require.NoError(t, err)
	var declared []string
	for _, decl := range parsed.Decls {
		f, ok := decl.(*ast.FuncDecl)
		if !ok || f.Recv == nil || f.Name.Name != "names" {
			continue
		}
		declared = append(declared, f.Recv.List[0].Type.(*ast.Ident).Name)
	}
	drawn, err := os.ReadFile("../../web/src/blocks/BlockView.tsx")
	require.NoError(t, err)
	schema, err := os.ReadFile("../../docs/solution.schema.json")
	require.NoError(t, err)
	described := strings.Join(strings.Fields(string(schema)), "")
	var listed []string
	kinds := map[string]bool{}
	for _, b := range Blocks {
		listed = append(listed, reflect.TypeOf(b).Name())
		kind := kindOf(t, b)
		assert.False(t, kinds[kind], "two kinds are called %s", kind)
		kinds[kind] = true
		assert.Contains(t, string(drawn), fmt.Sprintf("case %q:", kind), "the browser draws no block of the kind %s", kind)
		assert.True(t, strings.Contains(described, fmt.Sprintf(`"kind":{"const":%q}`, kind)), "the schema has no block of the kind %s", kind)
	}
	assert.ElementsMatch(t, declared, listed)
}
