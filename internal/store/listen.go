package store

import (
	"context"
	"log/slog"
	"strconv"
	"strings"
	"time"

	"brightsatchel/internal/core/topics"
)

// Listen calls changed for each brand and topic of which something changed, until ctx ends. It uses a connection of its own
// and takes a new one when that breaks; after such a gap it calls gap, since changes may have been missed.
func (db *DB) Listen(ctx context.Context, changed func(brand int64, topic topics.Topic), gap func()) {
	for ctx.Err() == nil {
		err := db.listenOnce(ctx, changed)
		if ctx.Err() != nil {
			return
		}
		slog.Warn("listening for changes broke off; starting again", "error", err)
		select {
		case <-ctx.Done():
		case <-time.After(time.Second):
			gap()
		}
	}
}

func (db *DB) listenOnce(ctx context.Context, changed func(brand int64, topic topics.Topic)) error {
	conn, err := db.Pool.Acquire(ctx)
	if err != nil {
		return err
	}
	raw := conn.Hijack()
	defer func() { _ = raw.Close(context.WithoutCancel(ctx)) }()
	if _, err := raw.Exec(ctx, "listen satchel"); err != nil {
		return err
	}
	for {
		note, err := raw.WaitForNotification(ctx)
		if err != nil {
			return err
		}
		brand, topic, _ := strings.Cut(note.Payload, " ")
		if id, err := strconv.ParseInt(brand, 10, 64); err == nil {
			changed(id, topics.Topic(topic))
		}
	}
}
