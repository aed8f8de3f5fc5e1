package assetstore

// ShownNow is the condition that a gallery g is open and its last day not over.
const ShownNow = `g.open and coalesce(g.ends_on >= current_date, true)`

// inGallery is the condition that a chapter of a gallery that is open shows an item a, but for albums that a rule keeps filled.
const inGallery = `(exists (select from album_item x join gallery_chapter s on s.album_id = x.album_id join gallery g on g.id = s.gallery_id
	where x.asset_id = a.id and ` + ShownNow + `) or exists (select from gallery_chapter s join gallery g on g.id = s.gallery_id
	where s.brand_id = a.brand_id and s.folder_id is not null and ` + ShownNow + ` and ` + placeShows + `))`
