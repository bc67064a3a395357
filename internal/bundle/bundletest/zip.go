// Package bundletest packs files for the tests of what is brought in.
package bundletest

import (
	"archive/zip"
	"bytes"
	"testing"

	"github.com/stretchr/testify/require"
)

// ZIP packs files, each a path and its contents, in their order.
func ZIP(t testing.TB, files ...[2]string) []byte {
	t.Helper()
	var out bytes.Buffer
	w := zip.NewWriter(&out)
	for _, file := range files {
		entry, err := w.Create(file[0])
		require.NoError(t, err)
		_, err = entry.Write([]byte(file[1]))
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	return out.Bytes()
}
