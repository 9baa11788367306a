// Package papertest reads what a printed paper says, for tests.
package papertest

import (
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"
)

// Text gives a PDF's text as a reader has it. It fails the test when poppler finds the file broken, and skips it where there is no poppler.
func Text(t *testing.T, pdf []byte) string {
	t.Helper()
	if _, err := exec.LookPath("pdftotext"); err != nil {
		t.Skip("pdftotext is not here; the end-to-end tests bring it")
	}
	file := filepath.Join(t.TempDir(), "paper.pdf")
	require.NoError(t, os.WriteFile(file, pdf, 0o600))
	out, err := exec.Command("pdftotext", "-layout", file, "-").CombinedOutput()
	require.NoError(t, err, string(out))
	return string(out)
}
