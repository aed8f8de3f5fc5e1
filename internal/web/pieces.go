package web

import (
	"context"

	"brightsatchel/api"
	"brightsatchel/internal/store/undostore"
)

func (h *handler) ListPieces(ctx context.Context, _ api.ListPiecesRequestObject) (api.ListPiecesResponseObject, error) {
	list, err := h.house.Pieces.Open(ctx, viewerOf(ctx))
	return api.ListPieces200JSONResponse(each(list, func(b undostore.Bulk) api.Pieces {
		return api.Pieces{ID: b.ID, Trail: &b.Trail, Said: b.Said, Total: b.Total, Left: b.Left, Failed: b.Failed, Undone: b.Action == "undo",
			Finished: b.Finished != nil}
	})), err
}
