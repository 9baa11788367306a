package main

import (
	"bufio"
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"io"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"strings"
	"sync"
	"syscall"

	"iter.example/iter/server/demo"
)

// flood measures how much memory the real program takes when very many try to sign in at once, and when large pictures come side by side.
func flood(ctx context.Context, program string) {
	if _, err := os.Stat(program); err != nil {
		fmt.Println("memory under flood: not measured, there is no", program)
		return
	}
	dir, err := os.MkdirTemp("", "iter-flood-")
	check(err)
	defer os.RemoveAll(dir)
	c := exec.CommandContext(ctx, program, "demo", "--data", dir, "--history", "0", "--address", "127.0.0.1:0")
	out, err := c.StdoutPipe()
	check(err)
	check(c.Start())
	defer func() { _ = c.Process.Signal(syscall.SIGTERM); _ = c.Wait() }()
	url := ""
	for lines := bufio.NewScanner(out); url == "" && lines.Scan(); {
		_, url, _ = strings.Cut(lines.Text(), "Iter is at ")
	}
	go func() { _, _ = io.Copy(io.Discard, out) }()
	peak := func() float64 { return megabytes(c.Process.Pid, "VmHWM") }

	account := demo.Accounts()[0]
	jar, err := cookiejar.New(nil)
	check(err)
	phone := &http.Client{Jar: jar}
	res, err := phone.Post(url+"/api/signin", "application/json",
		strings.NewReader(fmt.Sprintf(`{"login":%q,"password":%q}`, account.Login, account.Password)))
	check(err)
	_ = res.Body.Close()
	if res.StatusCode != http.StatusOK {
		check(fmt.Errorf("sign in: %s", res.Status))
	}

	quiet := peak()
	var all sync.WaitGroup
	for i := range 300 {
		all.Go(func() {
			res, err := http.Post(url+"/api/signin", "application/json",
				strings.NewReader(fmt.Sprintf(`{"login":"nobody %d","password":"wrong horse"}`, i)))
			check(err)
			_ = res.Body.Close()
		})
	}
	all.Wait()
	fmt.Printf("memory, 300 wrong sign-ins at once: %.0f MB at the most, %.0f MB before (each hash takes 64 MB)\n", peak(), quiet)

	before := peak()
	for _, side := range []int{7_900, 24_000} { // the largest that is drawn, and one that is not
		for i := range 6 {
			picture := blank(side, uint8(i))
			all.Go(func() { send(phone, url, picture) })
		}
		all.Wait()
		fmt.Printf("memory, 6 small files of %d x %d pixels at once: %.0f MB at the most, %.0f MB before\n", side, side, peak(), before)
	}
}

// blank is a picture of one colour: few bytes, many pixels.
func blank(side int, shade uint8) []byte {
	img := image.NewPaletted(image.Rect(0, 0, side, side), color.Palette{color.Gray{Y: shade}})
	var b bytes.Buffer
	check(png.Encode(&b, img))
	return b.Bytes()
}

// send uploads a file in one piece.
func send(c *http.Client, url string, file []byte) {
	sum := sha256.Sum256(file)
	ask := func(method, at string, body io.Reader, headers ...string) *http.Response {
		r, err := http.NewRequest(method, at, body)
		check(err)
		r.Header.Set("Tus-Resumable", "1.0.0")
		for i := 0; i < len(headers); i += 2 {
			r.Header.Set(headers[i], headers[i+1])
		}
		res, err := c.Do(r)
		check(err)
		_ = res.Body.Close()
		return res
	}
	hash := base64.StdEncoding.EncodeToString([]byte(hex.EncodeToString(sum[:])))
	began := ask("POST", url+"/api/upload/", nil, "Upload-Length", fmt.Sprint(len(file)), "Upload-Metadata", "hash "+hash)
	at := began.Header.Get("Location")
	if began.StatusCode != http.StatusCreated {
		check(fmt.Errorf("upload: %s", began.Status))
	}
	if strings.HasPrefix(at, "/") {
		at = url + at
	}
	done := ask("PATCH", at, bytes.NewReader(file), "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream")
	if done.StatusCode != http.StatusNoContent {
		check(fmt.Errorf("upload: %s", done.Status))
	}
}

// megabytes reads a figure of a process's memory.
func megabytes(pid int, name string) float64 {
	raw, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", pid))
	check(err)
	for line := range strings.Lines(string(raw)) {
		if rest, ok := strings.CutPrefix(line, name+":"); ok {
			var kilobytes float64
			_, err := fmt.Sscan(rest, &kilobytes)
			check(err)
			return kilobytes / 1024
		}
	}
	return 0
}
