package server

import (
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/bundle/bundletest"
)

// What a file of problems holds is told before anything lands, and then lands as it was chosen: all of it or nothing.
func TestBringInMany(t *testing.T) {
	h := newServer(t)
	unready := strings.Replace(berths, `"response":"minutes"`, `"response":"hours"`, 1)
	require.NotEqual(t, berths, unready)
	file := string(bundletest.ZIP(t,
		[2]string{"week/a.json", berths}, [2]string{"week/b.json", `{"grund": 1, "titel": "x"}`}, [2]string{"week/c.json", unready}))

	var coming []Coming
	require.Equal(t, http.StatusOK, call(t, h, "POST", "/api/problems/preview", file, &coming).Code)
	require.Len(t, coming, 3)
	assert.Equal(t, "week/a.json", coming[0].Name)
	assert.Equal(t, "Two means, independent groups", coming[0].ProcedureTitle)
	assert.Positive(t, coming[0].Cases)
	assert.True(t, coming[0].Readable)
	assert.Empty(t, coming[0].Mistakes)
	assert.False(t, coming[1].Readable)
	assert.Equal(t, "/titel", coming[1].Mistakes[0].Pointer)
	assert.True(t, coming[2].Readable, "what is wrong in it is mended after")
	assert.NotEmpty(t, coming[2].Mistakes)
	var list []Listing
	call(t, h, "GET", "/api/problems", nil, &list)
	assert.Empty(t, list, "nothing lands by being looked at")

	for take, says := range map[string]string{"": "/take", "3": "/take", "0,0": "/take", "-1": "/take", "0,1": "/1/titel"} {
		r := call(t, h, "POST", "/api/problems/bring?take="+take, file, nil)
		assert.Equal(t, http.StatusUnprocessableEntity, r.Code, take)
		assert.Contains(t, r.Body.String(), says, take)
	}
	call(t, h, "GET", "/api/problems", nil, &list)
	assert.Empty(t, list, "one that cannot be read keeps the others from landing half")
	var sets []DataListing
	call(t, h, "GET", "/api/data-sets", nil, &sets)
	assert.Empty(t, sets)

	var brought []Brought
	require.Equal(t, http.StatusCreated, call(t, h, "POST", "/api/problems/bring?take=2,0", file, &brought).Code)
	require.Len(t, brought, 2)
	call(t, h, "GET", "/api/problems", nil, &list)
	assert.Len(t, list, 2)
	assert.Equal(t, http.StatusOK, call(t, h, "POST", "/api/problems/"+brought[0].ID+"/work", "{}", nil).Code)

	require.Equal(t, http.StatusCreated, call(t, h, "POST", "/api/problems/bring?take=0", "["+berths+"]", &brought).Code)
	assert.Len(t, brought, 1)
	r := call(t, h, "POST", "/api/problems/preview", `[{"grund": 1}, `, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, r.Code)
}
