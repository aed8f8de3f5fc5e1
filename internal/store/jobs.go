package store

import "context"

// ReleaseJobs makes the jobs that a worker process of this name left running available again. That it was killed is no
// failure of the job and does not count as a try; how often it was is noted in its metadata (killed), since the job may be
// what kills.
func (db *DB) ReleaseJobs(ctx context.Context, worker string) error {
	_, err := db.ExecContext(ctx, `update river_job set state = 'available', scheduled_at = now(), attempt = greatest(0, attempt - 1),
			metadata = jsonb_set(metadata, '{killed}', to_jsonb(coalesce((metadata ->> 'killed')::int, 0) + 1))
		where state = 'running' and attempted_by[array_upper(attempted_by, 1)] = $1`, worker)
	return err
}

// SomebodyWaits says whether files have arrived that no worker has begun with, or a worker makes the files of a download.
func SomebodyWaits(ctx context.Context, r Reader) (bool, error) {
	return Get[bool](ctx, r, "", `select exists (select from river_job where kind = 'bring_in_file' and state = 'available'
		or kind = 'make_download' and state = 'running')`)
}
