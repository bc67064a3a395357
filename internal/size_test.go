package internal

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The sizes above which code is parted: the lines of a package and of a file, the lines of a
// function, and the characters of a line. A test that walks along a path, or lists certified
// numbers, may be as long as that is.
const (
	packageLines   = 4000
	fileLines      = 500
	functionLines  = 80
	lineCharacters = 140
)

func TestNothingIsTooLarge(t *testing.T) {
	root := os.DirFS("..")
	lines := map[string]int{}
	require.NoError(t, fs.WalkDir(root, ".", func(name string, entry fs.DirEntry, err error) error {
		if err != nil || entry.IsDir() && (entry.Name() == "node_modules" || entry.Name() == ".git") {
			if err == nil {
				err = fs.SkipDir
			}
			return err
		}
		if filepath.Ext(name) != ".go" {
			return nil
		}
		text, err := fs.ReadFile(root, name)
		require.NoError(t, err)
		n := 0
		for line := range strings.Lines(string(text)) {
			n++
			assert.LessOrEqual(t, utf8.RuneCountInString(strings.TrimSuffix(line, "\n")), lineCharacters, "%s:%d", name, n)
		}
		assert.LessOrEqual(t, n, fileLines, name)
		if strings.HasSuffix(name, "_test.go") {
			return nil
		}
		lines[filepath.Dir(name)] += n
		files := token.NewFileSet()
		parsed, err := parser.ParseFile(files, name, text, parser.SkipObjectResolution)
		require.NoError(t, err)
		for _, decl := range parsed.Decls {
			if f, ok := decl.(*ast.FuncDecl); ok {
				length := files.Position(f.End()).Line - files.Position(f.Pos()).Line + 1
				assert.LessOrEqual(t, length, functionLines, "%s: %s", name, f.Name.Name)
			}
		}
		return nil
	}))
	require.NotEmpty(t, lines)
	for name, n := range lines {
		assert.LessOrEqual(t, n, packageLines, name)
	}
}
