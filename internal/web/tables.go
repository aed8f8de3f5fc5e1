package web

import (
	"context"
	"errors"
	"io"
	"net/http"
	"os"
	"time"

	"github.com/gin-gonic/gin"

	"brightsatchel/api"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/describing"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store/wordstore"
)

// Limits of a table that is brought back, which may be larger than other requests.
const (
	tableTime    = 5 * time.Minute
	tablesAtOnce = 2 // being put into the database, each in memory as a whole
)

// addTables takes tables of words back. The body is the file as it is, its name is in the address.
func (s *Server) addTables() {
	places := make(chan struct{}, tablesAtOnce)
	s.route(http.MethodPost, "/api/brands/:brand/tables", may(access.Describe), func(c *gin.Context) error {
		ctx, cancel := context.WithTimeout(c.Request.Context(), tableTime)
		defer cancel()
		name := c.Query("name")
		if !isText(name) || name == "" || len(name) > 300 {
			return fault.Invalidf("name", "The table needs the name of its file.")
		}
		file, err := spooled(http.MaxBytesReader(c.Writer, c.Request.Body, describing.MostBytes)) // who is slow takes nobody's place
		var large *http.MaxBytesError
		switch {
		case errors.As(err, &large):
			return fault.Invalidf("table", "The table has more than %d MB. Bring it back in parts.", describing.MostBytes>>20)
		case err != nil:
			return err
		}
		defer func() { _ = file.Close() }()
		select {
		case places <- struct{}{}:
			defer func() { <-places }()
		case <-ctx.Done():
			return ctx.Err()
		}
		data, err := io.ReadAll(file)
		if err != nil {
			return err
		}
		table, err := s.house.Describing.BringBack(ctx, viewerOf(c), name, data)
		if err == nil {
			c.JSON(http.StatusOK, wordsTable(table))
		}
		return err
	})
}

// spooled keeps a body in a file that has no name any more, to be read from its beginning.
func spooled(body io.Reader) (*os.File, error) {
	file, err := os.CreateTemp("", "table-")
	if err != nil {
		return nil, err
	}
	_, err = io.Copy(file, body)
	if err = errors.Join(err, os.Remove(file.Name())); err == nil {
		_, err = file.Seek(0, io.SeekStart)
	}
	if err != nil {
		return nil, errors.Join(err, file.Close())
	}
	return file, nil
}

func wordsTable(t wordstore.WordsTable) api.WordsTable {
	return api.WordsTable{ID: t.ID, Name: t.Name, Made: t.Made, State: api.WordsTableState(t.State), Read: t.Read, Of: t.Of,
		Why: t.Why, Warnings: append([]string{}, t.Warnings...),
		NewTags: append([]string{}, t.NewTags...), Changes: t.Counts[wordstore.RowChanges], Same: t.Counts[wordstore.RowSame],
		Wrong: t.Counts[wordstore.RowWrong], Unknown: t.Counts[wordstore.RowUnknown], Forbidden: t.Counts[wordstore.RowForbidden]}
}

func (h *handler) WriteTable(ctx context.Context, r api.WriteTableRequestObject) (api.WriteTableResponseObject, error) {
	write, err := h.house.Describing.WriteTable(ctx, viewerOf(ctx), selectionOf(r.Body.Selection), r.Body.Form == api.JSON)
	if err != nil {
		return nil, err
	}
	out, in := io.Pipe()
	go func() { _ = in.CloseWithError(write(in)) }() // a reader that goes away ends it
	return api.WriteTable200ApplicationOctetStreamResponse{Body: out}, nil
}

func (h *handler) ListTables(ctx context.Context, _ api.ListTablesRequestObject) (api.ListTablesResponseObject, error) {
	tables, err := h.house.Describing.Tables(ctx, viewerOf(ctx))
	return api.ListTables200JSONResponse(each(tables, wordsTable)), err
}

func (h *handler) GetTable(ctx context.Context, r api.GetTableRequestObject) (api.GetTableResponseObject, error) {
	table, err := h.house.Describing.Table(ctx, viewerOf(ctx), r.ID)
	return api.GetTable200JSONResponse(wordsTable(table)), err
}

func (h *handler) ListTableRows(ctx context.Context, r api.ListTableRowsRequestObject) (api.ListTableRowsResponseObject, error) {
	state := wordstore.RowState(value(r.Params.State))
	rows, err := h.house.Describing.TableRows(ctx, viewerOf(ctx), r.ID, state, value(r.Params.After))
	return api.ListTableRows200JSONResponse(each(rows, tableRow)), err
}

func tableRow(r wordstore.WordsRow) api.TableRow {
	out := api.TableRow{Number: r.Number, Code: r.Code, FileName: r.FileName, State: api.TableRowState(r.State),
		Changes: each(r.Changes, func(c describing.CellChange) api.CellChange {
			return api.CellChange{Field: c.Field, Was: c.Was, Becomes: c.Becomes}
		}),
		Problems: each(r.Problems, func(p describing.CellProblem) api.CellProblem {
			return api.CellProblem{Field: p.Field, Text: p.Text}
		})}
	if r.Asset != 0 {
		out.Asset = &r.Asset
	}
	return out
}

func (h *handler) ApplyTable(ctx context.Context, r api.ApplyTableRequestObject) (api.ApplyTableResponseObject, error) {
	d, err := h.house.Describing.ApplyTable(ctx, viewerOf(ctx), r.ID)
	return api.ApplyTable200JSONResponse{DoneJSONResponse: done(d)}, err
}
