// Package topics names what changes in a brand. Open screens and caches are told by topic, and know no tables of the database; the
// contract lists the same words.
package topics

// Topic is what changed.
type Topic string

// The topics. What people do to items is Items; ItemsLooked is what the machine found out about them, ItemsCounted where they count,
// ItemsShown what stands for them elsewhere. Everything is told where something may have been missed.
const (
	Members           Topic = "members"
	Folders           Topic = "folders"
	Items             Topic = "items"
	Albums            Topic = "albums"
	AlbumItems        Topic = "album-items"
	TagGroups         Topic = "tag-groups"
	Tags              Topic = "tags"
	ItemTags          Topic = "item-tags"
	Keepers           Topic = "keepers"
	Satchel           Topic = "satchel"
	Grants            Topic = "grants"
	Sizes             Topic = "sizes"
	Intakes           Topic = "intakes"
	IntakeFiles       Topic = "intake-files"
	Downloads         Topic = "downloads"
	DownloadItems     Topic = "download-items"
	Galleries         Topic = "galleries"
	Trail             Topic = "trail"
	Stages            Topic = "stages"
	ServerFolders     Topic = "server-folders"
	WatchedFolders    Topic = "watched-folders"
	Outlets           Topic = "outlets"
	Faces             Topic = "faces"
	Twins             Topic = "twins"
	FolderTags        Topic = "folder-tags"
	Preferences       Topic = "preferences"
	LargeActs         Topic = "large-acts"
	OwnStars          Topic = "own-stars"
	PeopleShown       Topic = "people-shown"
	Colours           Topic = "colours"
	Looks             Topic = "looks"
	Embeds            Topic = "embeds"
	EmbedSources      Topic = "embed-sources"
	PublicAddresses   Topic = "public-addresses"
	Sites             Topic = "sites"
	Sightings         Topic = "sightings"
	Chapters          Topic = "chapters"
	Guests            Topic = "guests"
	Letters           Topic = "letters"
	GalleryEvents     Topic = "gallery-events"
	GuestLists        Topic = "guest-lists"
	GuestMarks        Topic = "guest-marks"
	Remarks           Topic = "remarks"
	Contributions     Topic = "contributions"
	Logos             Topic = "logos"
	Pages             Topic = "pages"
	Dispatches        Topic = "dispatches"
	Posts             Topic = "posts"
	Placements        Topic = "placements"
	PageFeeds         Topic = "page-feeds"
	DrivePasswords    Topic = "drive-passwords"
	Drafts            Topic = "drafts"
	Rehearsals        Topic = "rehearsals"
	RehearsalVariants Topic = "rehearsal-variants"
	RehearsalRemarks  Topic = "rehearsal-remarks"
	Shelves           Topic = "shelves"
	ShelfPlaces       Topic = "shelf-places"
	Screens           Topic = "screens"
	ScreensSeen       Topic = "screens-seen"
	ItemsLooked       Topic = "items-looked"
	ItemsCounted      Topic = "items-counted"
	ItemsShown        Topic = "items-shown"
	Brand             Topic = "brand"
	Everything        Topic = "everything"
)

// All lists every topic.
var All = []Topic{
	Members, Folders, Items, Albums, AlbumItems, TagGroups, Tags, ItemTags, Keepers, Satchel, Grants, Sizes, Intakes, IntakeFiles,
	Downloads, DownloadItems, Galleries, Trail, Stages, ServerFolders, WatchedFolders, Outlets, Faces, Twins, FolderTags, Preferences,
	LargeActs, OwnStars, PeopleShown, Colours, Looks, Embeds, EmbedSources, PublicAddresses, Sites, Sightings, Chapters, Guests,
	Letters, GalleryEvents, GuestLists, GuestMarks, Remarks, Contributions, Logos, Pages, Dispatches, Posts, Placements, PageFeeds,
	DrivePasswords, Drafts, Rehearsals, RehearsalVariants, RehearsalRemarks, Shelves, ShelfPlaces, Screens, ScreensSeen, ItemsLooked,
	ItemsCounted, ItemsShown, Brand, Everything,
}
