package main

import (
	"context"
	"net"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestAPortInUse(t *testing.T) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer l.Close()
	err = runServe(context.Background(), []string{"--data", t.TempDir(), "--address", l.Addr().String()})
	require.ErrorContains(t, err, "is in use by another program; nothing was changed")
	assert.ErrorContains(t, err, "--address")
}

func TestAServerStopsGracefully(t *testing.T) {
	_, end := begun(t, runServe, "--data", t.TempDir())
	end()
}

func TestACompanyFromNothing(t *testing.T) {
	ctx, dir := context.Background(), t.TempDir()
	require.ErrorContains(t, runAdmin(ctx, []string{"--login", "ada"}), "--data DIR")
	require.ErrorContains(t, runAdmin(ctx, []string{"--data", dir, "--login", "ada", "--zone", "Moon/Base"}), "nothing was changed")
	require.NoError(t, runAdmin(ctx, []string{"--data", dir, "--login", "ada", "--name", "Ada Lund", "--company", "Lund Pumps", "--zone",
		"Europe/Dublin"}))
	require.NoError(t, runImport(ctx, []string{"--data", dir, "../../docs/import-example"}))
	require.NoError(t, runPassword(ctx, []string{"--data", dir, "--login", "ann"}))
	require.ErrorContains(t, runPassword(ctx, []string{"--data", dir, "--login", "nobody"}), "no person")
	require.NoError(t, runVerify(ctx, []string{"--data", dir}))
	require.ErrorContains(t, runImport(ctx, []string{"--data", dir}), "which folder")
}

// A document that was changed behind the log's back is found.
func TestVerifyFindsADifference(t *testing.T) {
	ctx, dir := context.Background(), t.TempDir()
	require.NoError(t, runAdmin(ctx, []string{"--data", dir, "--login", "ada"}))
	s, err := newFlags("x", dir).open(ctx, nil)
	require.NoError(t, err)
	_, err = s.Sessions().Exec(`UPDATE docs SET body = replace(body, 'ada', 'eve') WHERE type = 'person'`)
	require.NoError(t, err)
	require.NoError(t, s.Close())
	require.ErrorContains(t, runVerify(ctx, []string{"--data", dir}), "1 rows differ")
	require.NoError(t, runRebuild(ctx, []string{"--data", dir}))
	require.NoError(t, runVerify(ctx, []string{"--data", dir}), "a rebuild puts it right")
	left, err := filepath.Glob(filepath.Join(dir, "refold-*"))
	require.NoError(t, err)
	assert.Empty(t, left, "and leaves nothing behind")
}

var usesChance = regexp.MustCompile(`\brand\.(\w+)`)

// The arrows point one way: cmd -> server -> core, and the core knows nothing of the world around it.
func TestImports(t *testing.T) {
	banned := map[string][]string{
		"core": {`"iter.example/iter/server`, `"iter.example/iter/cmd`, `"os"`, `"net`, `"database/`, `"math/rand"`, `"crypto/rand"`,
			"time.Now()", "go func("},
		"server": {`"iter.example/iter/cmd`},
	}
	for dir, words := range banned {
		files := 0
		require.NoError(t, filepath.WalkDir(filepath.Join("..", "..", dir), func(path string, d os.DirEntry, err error) error {
			if err != nil || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") ||
				strings.HasSuffix(filepath.Dir(path), "test") {
				return err
			}
			files++
			raw, err := os.ReadFile(path)
			for _, w := range words {
				assert.False(t, strings.Contains(string(raw), w), "%s has %s", path, w)
			}
			if dir == "core" {
				for _, chance := range usesChance.FindAllStringSubmatch(string(raw), -1) {
					assert.Contains(t, []string{"New", "NewPCG", "Rand"}, chance[1], "%s: chance in the core comes from a given seed", path)
				}
			}
			return err
		}))
		assert.Greater(t, files, 5)
	}
}

// Every code that the core and the server can say has a sentence, and every kind of entry a word.
func TestEveryCodeHasASentence(t *testing.T) {
	raw, err := os.ReadFile("../../web/src/words/en.ts")
	require.NoError(t, err)
	words := string(raw)
	found := 0
	for _, dir := range []string{"core", "server"} {
		require.NoError(t, filepath.WalkDir(filepath.Join("..", "..", dir), func(path string, _ os.DirEntry, err error) error {
			if err != nil || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
				return err
			}
			src, err := os.ReadFile(path)
			for _, call := range []string{"msg.New(\"", "t.flag(\""} {
				for _, rest := range strings.Split(string(src), call)[1:] {
					code, _, _ := strings.Cut(rest, `"`)
					found++
					if !strings.Contains(words, `"code.`+code+`"`) && !strings.Contains(words, `"code.`+code+`_one"`) {
						assert.Fail(t, "no sentence for "+code, path)
					}
				}
			}
			return err
		}))
	}
	assert.Greater(t, found, 80)
}
