package syncing_test

import "os"

func tempDir() (string, error) { return os.MkdirTemp("", "iter-sync-") }

func removeAll(dir string) { _ = os.RemoveAll(dir) }
