package molds

import (
	"cmp"
	"net/http"
	"net/url"
	"strconv"

	"ashshelf/shop/catalog"
	"ashshelf/shop/document"
	"ashshelf/soap/caution"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// Equipment: pots, jugs, cookers and cutters.

type toolList struct{ Tools []toolLine }

// toolLine is a piece of equipment as it stands beside the others.
type toolLine struct {
	catalog.Tool
	Drawn draw.Picture
}

func (s *Room) tools(w http.ResponseWriter, r *http.Request) error {
	list, err := s.Shop.Tools(r.Context())
	if err != nil {
		return err
	}
	most := 0.0
	for _, t := range list {
		most = max(most, t.ML)
	}
	var p toolList
	for _, t := range list {
		p.Tools = append(p.Tools, toolLine{t, draw.OfTool(t.ToolBody, most)})
	}
	return s.Show(w, r, http.StatusOK, "tools", "Equipment", "Molds", nil, p)
}

type toolPage struct {
	page.Editor
	Form    *page.Form
	History []catalog.Tool
	Kinds   []page.Option
}

func (s *Room) toolDocuments() page.Documents[catalog.Tool] {
	return page.Documents[catalog.Tool]{
		Kind:    store.Tools,
		History: s.Shop.ToolHistory,
		Number:  func(t catalog.Tool) int { return t.Number },
		Form:    func(t catalog.Tool, sys unit.System) *page.Form { return toolForm(t.Name, t.ToolBody, sys) },
		Fresh:   freshTool,
	}
}

func freshTool(*http.Request) (*page.Form, error) {
	return &page.Form{Values: url.Values{"kind": {string(document.Pot)}}}, nil
}

func toolForm(name string, b document.ToolBody, sys unit.System) *page.Form {
	f := &page.Form{Values: url.Values{}, System: sys}
	f.Set("name", name)
	f.Set("kind", string(b.Kind))
	f.Set("notes", b.Notes)
	if b.ML > 0 {
		f.Set("ml", unit.Trim(b.ML, 1)+" ml")
	}
	if b.Tare > 0 {
		f.Set("tare", unit.FieldMass(b.Tare, f.System))
	}
	if b.Spacing > 0 {
		f.Set("spacing", unit.FieldLength(b.Spacing, sys))
	}
	if b.Wires > 0 {
		f.Set("wires", strconv.Itoa(b.Wires))
	}
	page.Tick(f, "retired", b.Retired)
	return f
}

func readTool(f *page.Form) (name string, b document.ToolBody, p caution.Problems) {
	f.Problems = nil
	b = document.ToolBody{Kind: document.ToolKind(f.Get("kind")), Notes: f.Get("notes"), Retired: f.Get("retired") == "on"}
	if b.Kind == document.Cutter {
		b.Spacing, b.Wires = f.Length("spacing"), f.Count("wires")
	} else {
		b.ML = f.Volume("ml")
		b.Tare = page.IfTyped(f, "tare", f.Mass, 0)
	}
	name = f.Get("name")
	if p = f.Problems; len(p) == 0 {
		p = document.CheckTool(name, b)
	}
	return name, b, p
}

func (s *Room) tool(w http.ResponseWriter, r *http.Request) error {
	o, err := page.OpenEditor(s.Kit, r, s.toolDocuments())
	if err != nil {
		return err
	}
	return s.showTool(w, r, http.StatusOK, o)
}

func (s *Room) showTool(w http.ResponseWriter, r *http.Request, status int, o page.Opened[catalog.Tool]) error {
	return s.Show(
		w,
		r,
		status,
		"tool",
		cmp.Or(o.Form.Get("name"), "New equipment"),
		"Molds",
		o.Notice,
		toolPage{Editor: o.Editor, Form: o.Form, History: o.History, Kinds: page.Options(document.ToolKinds())},
	)
}

func (s *Room) toolLive(w http.ResponseWriter, r *http.Request) error {
	live, err := s.Live(r, page.EditorOf(r, store.Tools).Typed)
	if err != nil {
		return err
	}
	_, _, live.Form.Problems = readTool(live.Form)
	return s.Render(w, r, http.StatusOK, "live-errors", live)
}

func (s *Room) keepTool(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	name, body, problems := readTool(f)
	o, status, err := page.KeepEdited(s.Kit, w, r, s.toolDocuments(), f, func(b page.Editor) (string, error) {
		if err := problems.Err(); err != nil {
			return "", err
		}
		return s.Shop.KeepTool(r.Context(), page.Act(page.Ending(r, b.Typed)), b.OID, b.Base, name, body)
	})
	if err != nil || status == 0 {
		return err
	}
	return s.showTool(w, r, status, o)
}
