package storetest

import (
	"context"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"brightsatchel/internal/store"
	"brightsatchel/internal/store/findstore"
)

// Library fills a brand with so many made-up items, without pictures: for each 1,000 of them 5 folders up to six levels
// deep, 2 albums with 2,000 members, and 3 tags with 5,800 uses; skewed and correlated as in real libraries. The same
// number gives the same library. Indexes are told at the end.
func Library(t testing.TB, db *store.DB, brand, person int64, items int) {
	t.Helper()
	ctx := context.Background()
	connection, err := SQL(db).Connx(ctx)
	require.NoError(t, err)
	defer func() { _ = connection.Close() }()
	folders, albums, tags := max(8, items/200), max(4, items/500), max(6, items*3/1000)
	exec := func(statement string, args ...any) {
		_, err := connection.ExecContext(ctx, statement, args...)
		require.NoError(t, err, statement)
	}
	exec(`set statement_timeout = 0`)
	exec(`set maintenance_work_mem = '512MB'`)
	exec(`set session_replication_role = replica`) // no triggers, no checks of references
	// u is a number from 0 to 1 for a pair of numbers, s one that is small more often.
	exec(`create or replace function pg_temp.u(n bigint, seed int) returns float8 language sql immutable parallel safe as
		$$ select (hashint8extended(n, seed) & 1073741823) / 1073741824.0 $$`)
	exec(`create or replace function pg_temp.s(n bigint, seed int, many int) returns int language sql immutable parallel safe as
		$$ select floor(many * pg_temp.u(n, seed) ^ 2.5)::int $$`)
	// shade is a colour with its share in percent (core/likeness, Shade).
	exec(`create or replace function pg_temp.shade(n bigint, share int) returns int language sql immutable parallel safe as
		$$ select (((10 + n * 37 % 85) << 23) + ((68 + n * 53 % 120) << 15) + ((68 + n * 71 % 120) << 7))::int + share $$`)
	var indexes []struct{ Name, Def string }
	require.NoError(t, connection.SelectContext(ctx, &indexes, `select indexname as name, indexdef as def from pg_indexes
		where tablename in ('asset', 'version', 'asset_tag', 'album_item') and indexname not like '%key' and indexname not like '%pkey'`))
	for _, i := range indexes {
		exec(`drop index ` + i.Name)
	}
	var base struct{ Folder, Album, Tag, Asset, Version int64 }
	require.NoError(t, connection.GetContext(ctx, &base, `select coalesce((select max(id) from folder), 0) as folder,
		coalesce((select max(id) from album), 0) as album,
		coalesce((select max(id) from tag), 0) as tag, coalesce((select max(id) from asset), 0) as asset, coalesce((select max(id)
		from version), 0) as version`))
	exec(`insert into folder (id, brand_id, parent_id, name, happened_on)
		select $2 + n, $1, case when n > greatest(1, $3 / 20) then $2 + 1 + pg_temp.s(n, 1, least(n - 1, $3 / 4)::int) end,
		(array['Spring','Harbour','Field','Studio','Autumn','Night'])[1 + n % 6] || ' '
			|| (array['meet','days','launch','walk'])[1 + n % 4] || ' ' || n,
			case when n % 9 = 0 then date '2012-01-01' + (n * 37 % 5000)::int end from generate_series(1, $3::bigint) n`, brand,
		base.Folder, folders)
	exec(`insert into album (id, brand_id, name) select $2 + n, $1, 'Album ' || n from generate_series(1, $3::bigint) n`, brand,
		base.Album, albums)
	exec(`insert into tag (id, brand_id, name) select $2 + n, $1,
		(array['kite','crate','rope','gull','mast','thrift'])[1 + n % 6] || ' ' || n from generate_series(1, $3::bigint) n`, brand,
		base.Tag, tags)
	exec(`insert into folder_tag (brand_id, folder_id, tag_id) select $1, $2 + n, $4 + 1 + pg_temp.s(n, 2, $5) from generate_series(1,
		$3::bigint) n where n % 7 = 0`, brand, base.Folder, folders, base.Tag, tags)
	exec(fmt.Sprintf(`insert into asset (id, brand_id, folder_id, kind, title, description, alt, stars, captured_at, camera, place, latitude,
		longitude, source,
		version_id, file_name, media_type, bytes, width, height, tint, likeness, colours, added_at, added_by, changed_at, binned_at,
		stack_front)
		select %[1]d + n, $1, case when n %% 23 <> 0 then %[2]d + 1 + f end,
			case when n %% 31 = 0 then 'clip' when n %% 97 = 0 then 'document' else 'picture' end,
			case when n %% 3 = 0 then (array['Kites over the down','Gulls at the harbour','Crates and rope','Été à la mer','Night walk'])
				[1 + n %% 5] || ' ' || n %% 1000 else '' end,
			case when n %% 11 = 0 then 'Made for the autumn launch' else '' end, case when n %% 4 = 0 then 'A kite' else '' end,
			case when n %% 13 = 0 then -1 when n %% 5 = 0 then 1 + (n %% 5 + n %% 7) %% 5 else 0 end,
			case when n %% 19 <> 0 then timestamp '2012-01-01' + (f %% 4000) * interval '1 day' + (n %% 500) * interval '73 seconds' end,
			(array['Tarn K2','Tarn K3','Ostler 40','',''])[1 + n %% 5],
			case when n %% 3 <> 0 then 'Place ' || 1 + f %% 400 else '' end,
			case when n %% 3 = 1 then 50 + f %% 5000 * 0.002 end, case when n %% 3 = 1 then 10.4 + n %% 10 * 0.0001 end,
			(array['upload','upload','upload','server'])[1 + n %% 4],
			%[3]d + n, (array['OST_','img-','Scan '])[1 + n %% 3] || n || '.jpg', 'image/jpeg', 200000 + (n * 7919) %% 9000000,
			(array[6000,4000,1600])[1 + n %% 3], (array[4000,6000,1067])[1 + n %% 3], (n * 2654435761) %% 16777216,
			hashint8extended(n, 5), array[pg_temp.shade(n, 40), pg_temp.shade(n + 7, 25), pg_temp.shade(n * 3, 20), pg_temp.shade(n * 11, 10)],
			timestamptz '2020-01-01' + n * interval '3 minutes', $2, timestamptz '2020-01-01' + n * interval '3 minutes',
			case when n %% 101 = 0 then now() end, false
		from (select n, pg_temp.s(n / 40, 3, %[4]d) as f from generate_series(1, $3::bigint) n) x`, base.Asset, base.Folder,
		base.Version, folders), brand, person, items)
	exec(`insert into version (id, brand_id, asset_id, file_name, media_type, bytes, sha256, width, height, likeness, likeness_bands)
		select $2 + n, $1, $3 + n, 'made.jpg', 'image/jpeg', 1000, sha256(int8send($3 + n)), 1600, 1067, h,
			array[(h & 65535)::int, (65536 + ((h >> 16) & 65535))::int, (131072 + ((h >> 32) & 65535))::int,
			(196608 + ((h >> 48) & 65535))::int]
		from (select n, hashint8extended(n, 5) as h from generate_series(1, $4::bigint) n) x`, brand, base.Version, base.Asset, items)
	exec(`insert into album_item (brand_id, album_id, asset_id, position) select $1, $2 + 1 + pg_temp.s(n, 6, $4),
		$3 + 1 + floor($5 * pg_temp.u(n, 7))::int, lpad(to_hex(n), 7, '0') || 'V'
		from generate_series(1, 2 * $5::bigint) n on conflict do nothing`, brand, base.Album, base.Asset, albums, items)
	exec(`insert into asset_tag (brand_id, asset_id, tag_id) select $1, $2 + 1 + floor($5 * pg_temp.u(n / 6, 8))::int,
		$3 + 1 + pg_temp.s(n, 9, $4)
		from generate_series(1, 58 * $5::bigint / 10) n on conflict do nothing`, brand, base.Asset, base.Tag, tags, items)
	exec(`insert into keeper (brand_id, person_id, asset_id) select $1, $2, $3 + n from generate_series(1, $4::bigint) n
		where n % 50 = 0`, brand, person, base.Asset, items)
	for _, i := range indexes {
		exec(i.Def)
	}
	for _, table := range []string{"folder", "album", "tag", "asset", "version"} {
		exec(fmt.Sprintf(`select setval(pg_get_serial_sequence('%[1]s', 'id'), (select max(id) from %[1]s))`, table))
	}
	exec(`set session_replication_role = origin`)
	exec(`insert into feed (brand_id, what, assets) select brand_id, 'asset', array_agg(id) from asset where brand_id = $1
		group by brand_id`, brand)
	for _, relation := range findstore.Relations {
		exec(fmt.Sprintf(`insert into feed (brand_id, what, assets) select brand_id, '%[1]s', array_agg(distinct asset_id) from %[1]s
			where brand_id = $1 and asset_id is not null group by brand_id`, relation), brand)
	}
	exec(`insert into feed (brand_id, what) values ($1, 'folder')`, brand)
	exec(`insert into brand_usage select $1, sum(bytes) from (select distinct on (sha256) bytes from version where brand_id = $1
		and left_at is null order by sha256) v
		on conflict (brand_id) do update set bytes = excluded.bytes`, brand)
	exec(`analyze`)
	exec(`reset all`)
}
