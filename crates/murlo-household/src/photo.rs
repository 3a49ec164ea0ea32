//! Photos: of a glass in a clean, of what a visit found and left, of a page that belongs to a brewer.

use jiff::Timestamp;
use murlo_base::bounds;
use murlo_base::problem::{Code, Problem, Problems};
use serde::{Deserialize, Serialize};
use std::collections::HashSet;

/// So many photos are kept of one visit, and of one brewer.
const MOST_PHOTOS: usize = 24;
/// Longest side of a glass that is kept, pixels: enough to tap two glasses.
const GLASS_SIDE: u32 = 960;
/// Longest side of any other photo: small print of a guide can still be read.
const PAGE_SIDE: u32 = 1600;

/// What a photo shows.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Shows {
    /// A glass, in a clean.
    Glass,
    /// What a visit found.
    Before,
    /// What a visit left.
    After,
    /// A page of the maker's guide, or a label of the brewer.
    Guide,
}

/// What a photo belongs to.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum PhotoOf {
    /// A clean.
    Clean(String),
    /// A visit.
    Visit(String),
    /// A brewer.
    Brewer(String),
}

impl PhotoOf {
    /// The one of three that is given, and fits what the photo shows.
    ///
    /// # Errors
    /// `Contradiction` for none, several, or one that such a photo cannot belong to.
    pub fn told(
        shows: Shows,
        clean_id: Option<String>,
        visit_id: Option<String>,
        brewer_id: Option<String>,
    ) -> Result<Self, Problem> {
        match (shows, clean_id, visit_id, brewer_id) {
            (Shows::Glass, Some(id), None, None) => Ok(Self::Clean(id)),
            (Shows::Before | Shows::After, None, Some(id), None) => Ok(Self::Visit(id)),
            (Shows::Guide, None, None, Some(id)) => Ok(Self::Brewer(id)),
            _ => Err(Problem::new(
                Code::Contradiction,
                "shows",
                "a glass belongs to a clean, before and after to a visit, a guide to a brewer: give that one alone",
            )),
        }
    }

    /// Whether one more photo may be kept beside so many.
    ///
    /// # Errors
    /// `TooMuch` where a visit or brewer has enough of them.
    pub fn has_room(&self, beside: usize) -> Result<(), Problem> {
        if matches!(self, Self::Clean(_)) || beside < MOST_PHOTOS {
            return Ok(());
        }
        let message = format!("there are {beside} photos already: put one away first");
        Err(Problem::new(Code::TooMuch, "photo", message))
    }

    const fn field(&self) -> (&'static str, &String) {
        match self {
            Self::Clean(id) => ("clean_id", id),
            Self::Visit(id) => ("visit_id", id),
            Self::Brewer(id) => ("brewer_id", id),
        }
    }
}

/// A photo: a JPEG of its pixels and nothing else.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[serde(try_from = "PhotoRow", into = "PhotoRow")]
pub struct Photo {
    /// Identity.
    pub id: String,
    /// What it shows.
    pub shows: Shows,
    /// What it belongs to.
    pub of: PhotoOf,
    /// When it came; nobody kept that of the oldest.
    pub at: Option<Timestamp>,
    /// Put away.
    pub archived: bool,
    /// The picture.
    pub jpeg: Vec<u8>,
}

/// A photo without its pixels.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct PhotoBrief {
    /// Identity: its picture is at `/api/photos/ID`.
    pub id: String,
    /// What it shows.
    pub shows: Shows,
    /// When it came; not known of the oldest.
    pub at: Option<Timestamp>,
}

/// A photo as it is written.
#[derive(Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct PhotoRow {
    id: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    shows: Option<Shows>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    clean_id: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    visit_id: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    brewer_id: Option<String>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    at: Option<Timestamp>,
    #[serde(default)]
    archived: bool,
    #[serde(with = "base64")]
    jpeg: Vec<u8>,
}

impl TryFrom<PhotoRow> for Photo {
    type Error = Problem;

    fn try_from(row: PhotoRow) -> Result<Self, Problem> {
        // The first that were kept were all of glasses, and did not say so.
        let shows = row.shows.unwrap_or(Shows::Glass);
        Ok(Self {
            id: row.id,
            shows,
            of: PhotoOf::told(shows, row.clean_id, row.visit_id, row.brewer_id)?,
            at: row.at,
            archived: row.archived,
            jpeg: stripped(row.jpeg),
        })
    }
}

impl From<Photo> for PhotoRow {
    fn from(photo: Photo) -> Self {
        let (mut clean_id, mut visit_id, mut brewer_id) = (None, None, None);
        match photo.of {
            PhotoOf::Clean(id) => clean_id = Some(id),
            PhotoOf::Visit(id) => visit_id = Some(id),
            PhotoOf::Brewer(id) => brewer_id = Some(id),
        }
        Self {
            id: photo.id,
            shows: Some(photo.shows),
            clean_id,
            visit_id,
            brewer_id,
            at: photo.at,
            archived: photo.archived,
            jpeg: photo.jpeg,
        }
    }
}

/// What photos of a household may belong to, by id.
pub(super) struct Owners<'a> {
    pub cleans: HashSet<&'a str>,
    pub visits: HashSet<&'a str>,
    pub brewers: HashSet<&'a str>,
}

impl Shows {
    /// Longest side that is kept of such a photo, pixels.
    #[must_use]
    pub const fn side(self) -> u32 {
        match self {
            Self::Glass => GLASS_SIDE,
            Self::Before | Self::After | Self::Guide => PAGE_SIDE,
        }
    }
}

impl Photo {
    pub(super) fn check(&self, owners: &Owners) -> Result<(), Problems> {
        let mut problems = Problems::default();
        let there = match self.of {
            PhotoOf::Clean(_) => &owners.cleans,
            PhotoOf::Visit(_) => &owners.visits,
            PhotoOf::Brewer(_) => &owners.brewers,
        };
        let (field, id) = self.of.field();
        if !there.contains(id.as_str()) {
            let message = format!("\"{id}\" is not in this file");
            problems
                .0
                .push(Problem::new(Code::UnknownId, field, message));
        }
        if !is_jpeg(&self.jpeg) || self.jpeg.len() > bounds::PHOTO_BYTES {
            let message = format!(
                "this is no JPEG of at most {} MB: leave the photo out, or take one that Murlo exported",
                bounds::PHOTO_BYTES >> 20
            );
            problems
                .0
                .push(Problem::new(Code::NotTheFormat, "jpeg", message));
        }
        problems.or(Some(()))
    }
}

/// Whether `bytes` are built like a JPEG: its first marker, segments by their lengths up to a frame and the scan, and its
/// last marker. The pixels themselves are not read.
fn is_jpeg(bytes: &[u8]) -> bool {
    if !bytes.starts_with(&[0xFF, 0xD8]) || !bytes.ends_with(&[0xFF, 0xD9]) {
        return false;
    }
    let (mut at, mut has_frame) = (2, false);
    while let Some(&[0xFF, marker, high, low]) = bytes.get(at..at + 4) {
        match marker {
            // Start of scan: what follows are pixels.
            0xDA => return has_frame,
            0xC4 | 0xC8 | 0xCC => {}
            0xC0..=0xCF => has_frame = true,
            _ => {}
        }
        at += 2 + usize::from(u16::from_be_bytes([high, low]));
    }
    false
}

/// A JPEG without what its writer told beside the pixels: place, device, time, another picture. One that Murlo wrote stays as it is.
fn stripped(bytes: Vec<u8>) -> Vec<u8> {
    if !is_jpeg(&bytes) {
        return bytes;
    }
    let (mut kept, mut at) = (bytes[..2].to_vec(), 2);
    while let Some(&[0xFF, marker, high, low]) = bytes.get(at..at + 4) {
        if marker == 0xDA {
            break;
        }
        let next = at + 2 + usize::from(u16::from_be_bytes([high, low]));
        let is_told = matches!(marker, 0xE1..=0xED | 0xEF | 0xFE);
        if let Some(segment) = bytes.get(at..next).filter(|_| !is_told) {
            kept.extend_from_slice(segment);
        }
        at = next;
    }
    kept.extend_from_slice(bytes.get(at..).unwrap_or_default());
    kept
}

mod base64 {
    use base64::Engine;
    use base64::engine::general_purpose::STANDARD;
    use serde::{Deserialize, Deserializer, Serializer};

    pub(crate) fn serialize<S: Serializer>(bytes: &[u8], to: S) -> Result<S::Ok, S::Error> {
        to.serialize_str(&STANDARD.encode(bytes))
    }

    pub fn deserialize<'de, D: Deserializer<'de>>(from: D) -> Result<Vec<u8>, D::Error> {
        let text = String::deserialize(from)?;
        STANDARD.decode(text).map_err(serde::de::Error::custom)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// The smallest that is built like a JPEG.
    const JPEG: &str = "/9j/wAAC/9oAAv/Z";

    #[test]
    fn a_photo_belongs_to_what_it_can_show() {
        let some = |given: bool| given.then(|| "x".to_owned());
        for shows in [Shows::Glass, Shows::Before, Shows::After, Shows::Guide] {
            for given in 0..8 {
                let [clean, visit, brewer] = [1, 2, 4].map(|bit| given & bit != 0);
                let told = PhotoOf::told(shows, some(clean), some(visit), some(brewer));
                let expected = match shows {
                    Shows::Glass => 1,
                    Shows::Before | Shows::After => 2,
                    Shows::Guide => 4,
                };
                assert_eq!(told.is_ok(), given == expected, "{shows:?} {given}");
            }
        }
    }

    #[test]
    fn one_from_before_photos_told_what_they_show_is_of_a_glass() {
        let old = format!(r#"{{"id": "p", "clean_id": "c", "jpeg": "{JPEG}"}}"#);
        let photo: Photo = serde_json::from_str(&old).unwrap();
        assert_eq!(photo.shows, Shows::Glass);
        assert_eq!(photo.of, PhotoOf::Clean("c".into()));
        let written = serde_json::to_string(&photo).unwrap();
        assert_eq!(serde_json::from_str::<Photo>(&written).unwrap(), photo);
        for wrong in [
            r#""clean_id": "c", "visit_id": "v""#,
            r#""shows": "after""#,
            r#""clean_id": "c", "what": 1"#,
        ] {
            let text = format!(r#"{{"id": "p", {wrong}, "jpeg": "{JPEG}"}}"#);
            assert!(serde_json::from_str::<Photo>(&text).is_err(), "{wrong}");
        }
    }

    #[test]
    fn a_visit_and_a_brewer_keep_so_many_and_a_clean_all() {
        let of = |of: fn(String) -> PhotoOf| of("x".into());
        for (of, beside, expected) in [
            (of(PhotoOf::Visit), MOST_PHOTOS - 1, true),
            (of(PhotoOf::Visit), MOST_PHOTOS, false),
            (of(PhotoOf::Brewer), MOST_PHOTOS, false),
            (of(PhotoOf::Clean), MOST_PHOTOS, true),
        ] {
            assert_eq!(of.has_room(beside).is_ok(), expected, "{of:?} {beside}");
        }
    }

    #[test]
    fn what_is_told_beside_the_pixels_is_left_out() {
        let small = [
            0xFF, 0xD8, 0xFF, 0xC0, 0, 2, 0xFF, 0xDA, 0, 2, 9, 0xFF, 0xD9,
        ];
        let (start, rest) = small.split_at(2);
        let with = |marker: u8| [start, &[0xFF, marker, 0, 4, 7, 7], rest].concat();
        for (marker, is_kept) in [
            (0xE0, true),
            (0xE1, false),
            (0xE2, false),
            (0xED, false),
            (0xEE, true),
            (0xEF, false),
            (0xFE, false),
            (0xDB, true),
        ] {
            let told = with(marker);
            let expected = if is_kept { &told[..] } else { &small[..] };
            assert_eq!(stripped(told.clone()), expected, "{marker:x}");
            assert_eq!(stripped(stripped(told.clone())), expected);
        }
        assert_eq!(stripped(b"<html>".to_vec()), b"<html>");
    }

    #[test]
    fn a_photo_is_a_jpeg_by_its_build() {
        let small = [0xFF, 0xD8, 0xFF, 0xC0, 0, 2, 0xFF, 0xDA, 0, 2, 0xFF, 0xD9];
        assert!(is_jpeg(&small));
        let table_first = [&small[..2], &[0xFF, 0xC4, 0, 3, 9], &small[2..]].concat();
        assert!(is_jpeg(&table_first));
        let no_frame = [&small[..2], &small[6..]].concat();
        let never_scanned = [&small[..6], &small[10..]].concat();
        let cut = &small[..10];
        let beyond = [0xFF, 0xD8, 0xFF, 0xC0, 0xFF, 0xFF, 0xFF, 0xD9];
        for wrong in [
            &no_frame[..],
            &never_scanned,
            cut,
            &beyond,
            b"",
            b"<html>",
            &small[1..],
        ] {
            assert!(!is_jpeg(wrong), "{wrong:?}");
        }
    }
}
