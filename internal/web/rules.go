package web

import (
	"context"

	"github.com/gin-gonic/gin"

	"brightsatchel/internal/core/access"
	"brightsatchel/internal/core/fault"
)

// rule says what a route needs. Exactly one of the fields is set.
type rule struct {
	public   bool          // anybody; the route decides by itself, as galleries do
	signedIn bool          // anybody who is signed in, in a brand of theirs
	self     bool          // anybody who is signed in, for themself and in no brand
	needs    access.Action // somebody who may do this somewhere in the brand; the step decides where
	inside   bool          // besides: somebody who sees the whole brand, and not only what was granted
	whole    bool          // besides: somebody who may do this in the whole brand, whose things are changed
}

var (
	public   = rule{public: true}
	signedIn = rule{signedIn: true}
	self     = rule{self: true}
)

func may(action access.Action) rule { return rule{needs: action} }

// inside is for what tells of the house: its disks, its accounts.
func inside(action access.Action) rule { return rule{needs: action, inside: true} }

// whole is for what belongs to the brand and not to a folder.
func whole(action access.Action) rule { return rule{needs: action, whole: true} }

// operations says what each operation of the contract needs. One that is missing here is refused, and fails a test.
var operations = map[string]rule{
	"WhoAmI": public, "SignIn": public, "SignOut": public, "ForgotPassword": public, "ViewGallery": public, "UnlockGallery": public,
	"ViewTalk": public, "IntroduceGuest": public, "GuestMarks": public, "GuestRemarks": public, "GuestUnsays": public,
	"AnnounceContributions": public,
	"ViewInvitation":        public, "Join": public, // the link is what lets in
	"RenameMe": self, "ChangePassword": self, "ListSessions": self, "EndSession": self,
	"Invite": may(access.Settings), "NewLink": may(access.Settings), "ListKnown": may(access.Settings), "LeaveBrand": signedIn,
	"GetBrand": signedIn, "ChangeBrand": may(access.Settings),

	"GetOverview": signedIn, "ListFolders": signedIn, "ListSheet": signedIn, "LoadRows": signedIn, "GetAsset": signedIn,
	"ListTags": signedIn, "TagsOfSelection": signedIn, "ListAlbums": signedIn, "ListTrail": signedIn, "ListIntakes": signedIn,

	"CreateFolder": may(access.File), "ChangeFolder": may(access.File), "MoveAssets": may(access.File),
	"RemoveFolder": may(access.Remove), "BinAssets": may(access.Remove), "RestoreAssets": may(access.Remove),
	"DescribeAsset": may(access.Describe), "TagAssets": may(access.Describe),
	"SuggestTags": may(access.Describe),
	"DrawFace":    may(access.Describe), "PlaceFace": may(access.Describe), "NameFace": may(access.Describe),
	"DropFace": may(access.Describe), "NextFace": may(access.Describe),
	"ListPeopleShown": may(access.Closed), "WriteAboutPerson": may(access.Closed),
	"GetTag": may(access.Closed), "RenameTag": may(access.Closed), "SpellTag": may(access.Closed), "MergeTags": may(access.Closed),
	"RemoveTags": may(access.Closed), "GroupTags": may(access.Closed), "TidyTags": may(access.Closed), "UnspellTag": may(access.Closed),
	"ListSpellings": may(access.Closed), "ListTagGroups": may(access.Closed), "MakeTagGroup": may(access.Closed),
	"ChangeTagGroup": may(access.Closed), "RemoveTagGroup": may(access.Closed),
	"WriteWords": may(access.Describe), "CompareWords": signedIn, "ListTexts": signedIn, "NameByPattern": may(access.Describe),
	"PreviewTitles": may(access.Describe), "TakeOverWords": may(access.Describe), "SetClock": may(access.Describe),
	"WriteTable": signedIn, "ListTableRows": may(access.Describe), "ListTables": may(access.Describe), "GetTable": may(access.Describe),
	"ApplyTable": may(access.Describe),
	"ListStages": signedIn, "MakeStage": may(access.Settings), "ChangeStage": may(access.Settings),
	"RemoveStage": may(access.Settings), "StageAssets": may(access.Describe),
	"ExplainFound": signedIn, "ExplainMiss": signedIn, "FindPile": signedIn, "RateAssets": may(access.Rate), "KeepAssets": may(access.Keep),
	"CountRules":  signedIn,
	"ReadRules":   signedIn,
	"ListColours": signedIn, "AddColour": may(access.Settings), "ChangeColour": may(access.Settings), "RemoveColour": may(access.Settings),
	"SetRecipe": may(access.Prepare), "SetFocal": may(access.Prepare),
	"ListRecipes": signedIn, "ListPageCrops": may(access.Prepare), "ProposeRecipe": may(access.Prepare), "ChangeRecipes": may(access.Prepare),
	"MakeAlike": may(access.Prepare), "PreviewAlike": may(access.Prepare), "ListControls": signedIn,
	"PlanReplacing": may(access.Prepare), "ReplaceAssets": may(access.Prepare), "ShowVersion": may(access.Prepare), "GetFilm": signedIn,
	"ListLooks": may(access.Prepare), "SaveLook": whole(access.Prepare), "ChangeLook": whole(access.Prepare),
	"RemoveLook":  whole(access.Prepare),
	"CreateAlbum": may(access.Gather), "ChangeAlbum": may(access.Gather), "RemoveAlbum": may(access.Gather),
	"AddToAlbums": may(access.Gather), "AlbumsFromFolder": may(access.Gather), "DuplicateAlbum": may(access.Gather),
	"MoveBetweenAlbums": may(access.Gather), "OrderAlbumBy": may(access.Gather), "GetAlbumChoice": may(access.Gather),
	"FollowAlbumChoice": may(access.Gather), "ForgetAlbumChoice": may(access.Gather),
	"AddToAlbum": may(access.Gather), "TakeOutOfAlbum": may(access.Gather), "OrderAlbum": may(access.Gather),
	"GetSatchel": may(access.Carry), "AddToSatchel": may(access.Carry), "TakeOutOfSatchel": may(access.Carry),
	"OrderSatchel":    may(access.Carry),
	"ListOutputSizes": may(access.Download), "ListDownloads": may(access.Download), "CreateDownload": may(access.Download),
	"PreviewDownload": may(access.Download), "RetryDownload": may(access.Download), "StopDownload": may(access.Download),
	"AddOutputSize": may(access.Settings), "ChangeOutputSize": may(access.Settings), "RetireOutputSize": may(access.Settings),
	"DuplicateOutputSize": may(access.Settings), "OrderOutputSizes": may(access.Settings), "DefaultOutputSizes": may(access.Settings),
	"ListSizeCosts": may(access.Settings), "ClearMade": may(access.Settings), "TryOutputSize": may(access.Settings),
	"ListTakenAlong": may(access.Trail), "CheckSelection": may(access.Carry), "CheckGallery": may(access.Galleries),
	"ListGalleries": may(access.Galleries), "CreateGallery": may(access.Galleries), "ChangeGallery": may(access.Galleries),
	"RemoveGallery": may(access.Galleries), "MergeGalleries": may(access.Galleries),
	"LookInside": may(access.Galleries), "SetGuestLists": may(access.Galleries), "AnswerGuest": may(access.Galleries),
	"RemoveRemark": may(access.Galleries), "PlanLetters": may(access.Galleries), "SendLetters": may(access.Galleries),
	"LetterAgain": may(access.Galleries), "WithdrawGuest": may(access.Galleries),
	"ListContributions": may(access.Galleries), "AcceptContributions": may(access.Galleries),
	"ListEmbeds": may(access.Galleries), "CreateEmbed": may(access.Galleries), "ChangeEmbed": may(access.Galleries),
	"RemoveEmbed": may(access.Galleries), "CheckEmbed": may(access.Galleries), "ShowEmbed": may(access.Galleries),
	"ListEmbedSightings": may(access.Galleries), "ViewEmbed": public,
	"ListPages": may(access.Galleries), "RefreshPages": may(access.Galleries), "ListDispatches": may(access.Galleries),
	"SendDispatch": may(access.Galleries), "CheckDispatch": may(access.Galleries), "ChangeDispatchPost": may(access.Galleries),
	"ChangeDispatch": may(access.Galleries), "MoveDispatchPost": may(access.Galleries), "GetCalendar": may(access.Galleries),
	"GetCalendarDays": may(access.Galleries),
	"ListPlaced":      signedIn, "CountPlaced": signedIn, "TakeBackEverywhere": may(access.Galleries),
	"ListRehearsals": signedIn, "GetRehearsal": signedIn, "RemarkOnRehearsal": signedIn, "RemoveRehearsalRemark": signedIn,
	"Rehearse": may(access.Galleries), "ChangeRehearsal": may(access.Galleries), "RemoveRehearsal": may(access.Galleries),
	"AddVariant": may(access.Galleries), "ChangeVariant": may(access.Galleries), "RemoveVariant": may(access.Galleries),
	"ListScreens": may(access.Galleries), "PairScreen": may(access.Galleries), "ChangeScreen": may(access.Galleries),
	"RemoveScreen": may(access.Galleries), "ViewScreen": public, "BeginScreen": public,
	"ListParking": signedIn, "PlaceThings": may(access.Galleries), "MakeThingFolder": may(access.Galleries),
	"ChangeThingFolder": may(access.Galleries), "RemoveThingFolder": may(access.Galleries),
	"ListDrafts": may(access.Galleries), "KeepDraft": may(access.Galleries), "ChangeDraft": may(access.Galleries),
	"RemoveDraft": may(access.Galleries), "SetDriveSends": may(access.Settings),
	"ListDrivePasswords": signedIn, "MakeDrivePassword": signedIn, "EndDrivePassword": signedIn,
	"MakeCalendarFeed": may(access.Galleries), "EndCalendarFeed": may(access.Galleries), "SetRhythm": may(access.Galleries),
	"ListPageFeeds": may(access.Galleries), "AddPageFeed": may(access.Galleries), "ChangePageFeed": may(access.Galleries),
	"ListLogos": signedIn, "SetLogos": may(access.Galleries), "ListWebsites": may(access.Galleries),
	"ListSites": may(access.Galleries), "AddSite": may(access.Settings), "RemoveSite": may(access.Settings), "OpenPicker": self,
	"ListPublicAddresses": may(access.Galleries), "MakePublic": may(access.Galleries), "EndPublic": may(access.Galleries),
	"ListAddressSightings": may(access.Galleries),
	"CreateIntake":         may(access.BringIn), "CancelIntake": may(access.BringIn),
	"GetIntake": signedIn, "ChangeIntake": may(access.BringIn),
	"AnnounceFiles": may(access.BringIn), "DescribeIntake": may(access.BringIn), "DecideDuplicate": may(access.BringIn),
	"ListIntakeTargets": may(access.BringIn),
	"ListServerFolders": inside(access.BringIn), "BrowseServerFolder": inside(access.BringIn), "BringInFromServer": inside(access.BringIn),
	"AllowServerFolder": may(access.Settings), "RemoveServerFolder": may(access.Settings),
	"ChangeServerFolder": may(access.Settings),
	"ListWatchedFolders": inside(access.BringIn), "WatchFolder": inside(access.BringIn), "StopWatching": inside(access.BringIn),
	"FindLeftFile": may(access.Describe), "TakeChangedFile": may(access.Describe),
	"ListOutlets": inside(access.BringIn), "CopyOutlet": inside(access.BringIn), "ListOutletAlbums": inside(access.BringIn),
	"ListOutletMedia":    inside(access.BringIn),
	"BringInFromOutlet":  inside(access.BringIn),
	"ListOutletServices": may(access.Settings), "BeginConnecting": may(access.Settings),
	"ConnectOutlet": may(access.Settings), "DisconnectOutlet": may(access.Settings),
	"GetMetadata": signedIn, "ListTwins": signedIn, "DecideTwins": may(access.Describe),
	"GetLimits": may(access.BringIn), "SetLimits": may(access.Settings), "GetLooking": signedIn, "LookAgain": may(access.Settings),
	"GetFacets": signedIn, "SizeUp": signedIn, "ListDays": signedIn, "GetHistory": signedIn, "GetExtent": signedIn, "GetPreferences": signedIn,
	"SetPreferences": signedIn, "ListPieces": signedIn,
	"OrderFolders": may(access.File), "DuplicateFolder": may(access.File), "OrderInFolder": may(access.File),
	"GetAudience": may(access.File), "TellAudience": may(access.File),
	"CopyAssets": may(access.File), "ProposeShoots": may(access.File), "FileByDate": may(access.File),
	"StackAssets": may(access.File), "UnstackAssets": may(access.File), "FrontOfStack": may(access.File),
	"EmptyBin": may(access.EmptyBin), "GetRights": may(access.Settings), "SetRole": may(access.Settings), "SeesAs": may(access.Settings),
	"GiveGrant": may(access.Settings), "TakeGrant": may(access.Settings), "CreateBrand": may(access.Settings),
	"Undo": may(access.Undo),
}

// authorise finds out who asks and whether they may, for one route. What the route is asked to do it to is decided by
// the step, with the viewer that this leaves in the context.
func (s *Server) authorise(c *gin.Context, r rule, known bool) error {
	if !known {
		return fault.Forbiddenf("This route does not say what it needs, so nobody may use it.")
	}
	if r.public {
		return nil
	}
	person := s.sessions.GetInt64(c.Request.Context(), "person")
	if person == 0 {
		return errSignedOut
	}
	if r.self {
		return nil
	}
	viewer, err := s.house.People.Viewer(c, person, c.Param("brand"))
	if err != nil {
		return err
	}
	if !r.signedIn && !viewer.Can(r.needs) || r.inside && !viewer.May(access.Look).All || r.whole && !viewer.May(r.needs).All {
		return fault.Forbiddenf("You may not do that here. Ask a steward if you need to.")
	}
	c.Set(viewerKey, viewer)
	return nil
}

const viewerKey = "viewer"

// viewerOf returns the viewer of a request that was authorised.
func viewerOf(ctx context.Context) *access.Viewer {
	return ctx.Value(viewerKey).(*access.Viewer)
}

// route adds a route outside of the contract, with what it needs.
func (s *Server) route(method, path string, r rule, handle func(*gin.Context) error) {
	s.rules[method+" "+path] = r
	s.engine.Handle(method, path, func(c *gin.Context) {
		if err := s.authorise(c, r, true); err != nil {
			fail(c, err)
			return
		}
		if err := handle(c); err != nil {
			fail(c, err)
		}
	})
}

// callerOf is the address that attempts are counted by: what a trusted proxy forwards, else that of the connection.
func callerOf(c *gin.Context) string { return c.ClientIP() }
