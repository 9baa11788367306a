package main

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"strings"
)

// module is the path of the Go module, whose packages lie in folders of their names.
const module = "iter.example/iter/"

// readComments reads what the Go sources say of types, as "package.Type", and of their fields, as "package.Type.Field".
func readComments(folders ...string) (map[string]string, error) {
	out := map[string]string{}
	for _, folder := range folders {
		err := filepath.WalkDir(folder, func(path string, d fs.DirEntry, err error) error {
			if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
				return err
			}
			f, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ParseComments|parser.SkipObjectResolution)
			if err != nil {
				return err
			}
			pkg := module + filepath.ToSlash(filepath.Dir(path)) + "."
			for _, decl := range f.Decls {
				if g, ok := decl.(*ast.GenDecl); ok && g.Tok == token.TYPE {
					noteTypes(out, pkg, g)
				}
			}
			return nil
		})
		if err != nil {
			return nil, err
		}
	}
	return out, nil
}

func noteTypes(out map[string]string, pkg string, g *ast.GenDecl) {
	for _, s := range g.Specs {
		spec := s.(*ast.TypeSpec)
		name := pkg + spec.Name.Name
		out[name] = said(spec.Doc, g.Doc)
		t, ok := spec.Type.(*ast.StructType)
		if !ok {
			continue
		}
		for _, field := range t.Fields.List {
			for _, n := range field.Names {
				out[name+"."+n.Name] = said(field.Doc, field.Comment)
			}
		}
	}
}

// said is the text of the first comment that there is, in one line.
func said(groups ...*ast.CommentGroup) string {
	for _, g := range groups {
		if g != nil {
			return strings.Join(strings.Fields(g.Text()), " ")
		}
	}
	return ""
}

// width is how wide lines of comments are, in characters.
const width = 130

// comment is a text as a comment of TypeScript, with what is before each of its lines.
func comment(before, text string) string {
	text = strings.ReplaceAll(text, "*/", "* /")
	switch {
	case text == "":
		return ""
	case len(before)+len(text) < width-7:
		return before + "/** " + text + " */\n"
	}
	out, line := before+"/**\n", before+" *"
	for _, word := range strings.Fields(text) {
		if len(line)+1+len(word) > width {
			out, line = out+line+"\n", before+" *"
		}
		line += " " + word
	}
	return out + line + "\n" + before + " */\n"
}
