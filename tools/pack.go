//go:build ignore

// Command pack puts a folder into a ZIP file, programs as programs: not every machine has a zip of its own.
package main

import (
	"archive/zip"
	"io"
	"io/fs"
	"log"
	"os"
	"path/filepath"
)

func main() {
	out, err := os.Create(os.Args[1])
	if err != nil {
		log.Fatal(err)
	}
	packed := zip.NewWriter(out)
	err = filepath.WalkDir(os.Args[2], func(path string, entry fs.DirEntry, err error) error {
		if err != nil || entry.IsDir() {
			return err
		}
		info, err := entry.Info()
		if err != nil {
			return err
		}
		head, err := zip.FileInfoHeader(info)
		if err != nil {
			return err
		}
		head.Name, head.Method = filepath.ToSlash(path), zip.Deflate
		to, err := packed.CreateHeader(head)
		if err != nil {
			return err
		}
		in, err := os.Open(path)
		if err != nil {
			return err
		}
		defer in.Close()
		_, err = io.Copy(to, in)
		return err
	})
	if err != nil {
		log.Fatal(err)
	}
	if err := packed.Close(); err != nil {
		log.Fatal(err)
	}
	if err := out.Close(); err != nil {
		log.Fatal(err)
	}
}
