package takealong

import (
	"archive/zip"
	"context"
	"errors"
	"fmt"
	"io"
	"strings"
	"time"

	"brightsatchel/internal/blob"
	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
	"brightsatchel/internal/store/assetstore"
	"brightsatchel/internal/store/downloadstore"
)

// Archive finds a download of the viewer's that is a ZIP. WriteZIP writes it, also before the last file is made.
func (s *Service) Archive(ctx context.Context, v *access.Viewer, code string) (downloadstore.Download, error) {
	d, err := downloadstore.DownloadByCode(ctx, s.DB, v.Brand, code)
	if err == nil && (d.Person != v.Person || d.Place != "" || d.State == "failed") {
		err = fault.NotFoundf("That download is not ready, or not yours.")
	}
	return d, err
}

const (
	untilMade = 250 * time.Millisecond // how long the next look whether a file is made waits
	notMade   = "_not made.txt"
)

// WriteZIP writes the files of a download in their order as a ZIP (ZIP64 where that is needed), each as soon as it is made. What could not
// be made is told in a text at the end. The files are packed already, so they are stored and not compressed once more.
func (s *Service) WriteZIP(ctx context.Context, d downloadstore.Download, w io.Writer) error {
	archive := zip.NewWriter(w)
	var failed []string
	for number := 1; ; number++ {
		item, err := s.whenMade(ctx, d.ID, number)
		if err != nil {
			return err
		}
		if item == nil {
			break
		}
		if item.State != "made" {
			failed = append(failed, fmt.Sprintf("%s (%s): %s\r\n", item.Name, item.Item, item.Why))
			continue
		}
		if err := s.packFile(ctx, archive, d.Brand, *item); err != nil {
			return err
		}
	}
	if len(failed) > 0 {
		text, err := archive.CreateHeader(&zip.FileHeader{Name: notMade, Method: zip.Store, Modified: time.Now()})
		if err != nil {
			return err
		}
		if _, err := io.WriteString(text, strings.Join(failed, "")); err != nil {
			return err
		}
	}
	return archive.Close()
}

// whenMade waits until a file of a download is made or failed. It returns nil after the last one.
func (s *Service) whenMade(ctx context.Context, download int64, number int) (*downloadstore.DownloadItem, error) {
	for {
		item, err := downloadstore.DownloadFileAt(ctx, s.DB, download, number)
		var missing *fault.NotFound
		if err != nil && !errors.As(err, &missing) {
			return nil, err
		}
		if err == nil && item.State != "waiting" {
			return &item, nil
		}
		d, err := downloadstore.DownloadByID(ctx, s.DB, download)
		switch {
		case err != nil:
			return nil, err
		case d.State != "making" && (missing != nil || d.State != "stopped"):
			return nil, nil
		case d.State == "stopped":
			item.Why = "It was stopped before this was made."
			return &item, nil
		case missing != nil && len(d.Selected) == 0 && number > d.Total:
			return nil, nil
		}
		select {
		case <-ctx.Done():
			return nil, ctx.Err()
		case <-time.After(untilMade):
		}
	}
}

// packFile puts a file of a download into a ZIP. One that was cleared away since is made again.
func (s *Service) packFile(ctx context.Context, archive *zip.Writer, brand int64, item downloadstore.DownloadItem) error {
	err := s.Blobs.Pack(ctx, archive, item.Name, item.Blob)
	if !errors.Is(err, blob.ErrMissing) {
		return err
	}
	assets, err := assetstore.AssetsIn(ctx, s.DB, brand, []int64{item.Asset})
	if err != nil || len(assets) == 0 {
		return err
	}
	size, err := downloadstore.OutputSizeByID(ctx, s.DB, brand, item.Size)
	if err != nil {
		return err
	}
	made, err := s.Renditions.EnsureAtLast(ctx, brand, assets[0], size.Size)
	if err != nil {
		return err
	}
	return s.Blobs.Pack(ctx, archive, item.Name, made.Blob)
}
