package outputs

// Defaults are the output sizes that a brand begins with.
var Defaults = []Size{
	{Name: "Web 1200", Width: 1200, Height: 1200, Fit: Inside, Format: "jpeg", Quality: 82, Metadata: StripPrivate, Pattern: "{name}"},
	{Name: "Web 2400", Width: 2400, Height: 2400, Fit: Inside, Format: "jpeg", Quality: 82, Metadata: StripPrivate, Pattern: "{name}"},
	{Name: "Square 1080", Width: 1080, Height: 1080, Fit: Fill, Format: "jpeg", Quality: 84, Metadata: StripPrivate, Pattern: "{name} square"},
	{Name: "Upright 1080", Width: 1080, Height: 1920, Fit: Fill, Format: "jpeg", Quality: 84, Metadata: StripPrivate,
		Pattern: "{name} upright"},
	{Name: "Shop card 480", Width: 480, Height: 480, Fit: Inside, Format: "webp", Quality: 78, Metadata: StripAll, Pattern: "{title}"},
	{Name: "Mail, under 200 kB", Width: 1600, Height: 1600, Fit: Inside, Format: "jpeg", Quality: 85, Metadata: StripPrivate,
		Pattern: "{name} mail", Budget: 200_000},
	{Name: "For the press, 3000", Width: 3000, Height: 3000, Fit: Inside, Format: "jpeg", Quality: 90, Metadata: Keep, Pattern: "{name}"},
}
