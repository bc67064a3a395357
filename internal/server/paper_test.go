package server

import (
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The working goes out as a document that may do nothing, as HTML and as OpenDocument; wrong wishes are named.
func TestPaper(t *testing.T) {
	h := newServer(t)
	var p Problem
	require.Equal(t, http.StatusCreated, call(t, h, "POST", "/api/problems/import", berths, &p).Code)
	get := func(query string) (int, http.Header, string) {
		r := call(t, h, "GET", "/api/problems/"+p.ID+"/paper?"+query, "", nil)
		return r.Code, r.Header(), r.Body.String()
	}
	code, header, text := get("what=short&name=%3Cscript%3E")
	require.Equal(t, http.StatusOK, code, text)
	assert.Contains(t, header.Get("Content-Security-Policy"), "default-src 'none'")
	assert.NotContains(t, text, "<script>")
	assert.Empty(t, header.Get("Content-Disposition"))
	code, header, text = get("format=odt")
	require.Equal(t, http.StatusOK, code)
	assert.True(t, strings.HasPrefix(text, "PK"))
	assert.Contains(t, header.Get("Content-Disposition"), ".odt")
	for query, says := range map[string]string{
		"what=all": "/what", "format=doc": "/format", "steps=nowhere": "/steps", "size=a5": "/size", "name=" + strings.Repeat("x", 201): "/name",
	} {
		code, _, text = get(query)
		assert.Equal(t, http.StatusUnprocessableEntity, code, query)
		assert.Contains(t, text, says)
	}
	assert.Equal(t, http.StatusNotFound, call(t, h, "GET", "/api/problems/00000000-0000-4000-8000-000000000009/paper", "", nil).Code)
}
