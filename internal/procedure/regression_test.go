package procedure

import "testing"

// The expected numbers were made by testdata/regression.py.
func TestLinesAgainstReferences(t *testing.T) { checkReferences(t, "regression.json") }
