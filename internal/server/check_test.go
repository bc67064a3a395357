package server

import (
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/answer"
	"grund/internal/exchange"
)

// A file and a stored problem are judged alike; what is wrong is named in the request.
func TestCheck(t *testing.T) {
	h := newServer(t)
	var p Problem
	require.Equal(t, http.StatusCreated, call(t, h, "POST", "/api/problems/import", demoFile(t), &p).Code)
	for _, of := range []string{demoFile(t), `"` + p.ID + `"`} {
		var v answer.Verdicts
		body := `{"problem":` + of + `,"answers":{"t":"2.064","decision":"do_not_reject","p":"soon"}}`
		require.Equal(t, http.StatusOK, call(t, h, "POST", "/api/check", body, &v).Code)
		require.Len(t, v.Verdicts, 3)
		assert.Equal(t, []string{"slip", "right", "unreadable"}, []string{v.Verdicts[0].Verdict, v.Verdicts[1].Verdict, v.Verdicts[2].Verdict})
		assert.Equal(t, []any{"sign", 1, 2}, []any{v.Verdicts[0].Slip, v.Right, v.Of})
	}
	for body, pointer := range map[string]string{
		`{"problem":"none","answers":{}}`:                                    "/problem",
		`{"problem":{"grund":1,"procedure":"x"},"answers":{}}`:               "/problem/",
		`{"problem":` + demoFile(t) + `,"answers":{"tee":"1"}}`:              "/answers/tee",
		`{"problem":` + demoFile(t) + `}`:                                    "/answers",
		`{"problem":` + demoFile(t) + `,"answers":{"decision":"perhaps"}}`:   "/answers/decision",
		`{"problem":` + demoFile(t) + `,"answers":{"hypotheses":{"a":"b"}}}`: "/answers/hypotheses",
	} {
		var f exchange.Failure
		require.Equal(t, http.StatusUnprocessableEntity, call(t, h, "POST", "/api/check", body, &f).Code, pointer)
		assert.Contains(t, f.Errors[0].Pointer, pointer)
	}
}
