package store

import "context"

// ReleaseJobs makes the jobs that a worker process of this name left running available again.
func (db *DB) ReleaseJobs(ctx context.Context, worker string) error {
	_, err := db.ExecContext(ctx, `update river_job set state = 'available', scheduled_at = now()
		where state = 'running' and attempted_by[array_upper(attempted_by, 1)] = $1`, worker)
	return err
}

// FilesWaitToBeTaken says whether files have arrived that no worker has begun with.
func FilesWaitToBeTaken(ctx context.Context, r Reader) (bool, error) {
	return get[bool](ctx, r, "", `select exists (select from river_job where kind = 'bring_in_file' and state = 'available')`)
}
