//! A picture as a phone or a camera sends it, made into one that can be kept: read by what is in it
//! and not by its name, turned upright, made no larger than it is looked at, and written anew, so
//! that nothing is left in it of where and with what it was taken.

use std::io::Cursor;

use image::codecs::jpeg::JpegEncoder;
use image::{DynamicImage, ImageDecoder as _, ImageFormat, ImageReader, Limits, Rgb, RgbImage};
use reed_store::photos::Picture;

/// Bytes of a picture at most, as it is sent.
pub(crate) const LARGEST_BYTES: usize = 20 * 1024 * 1024;
/// Pixels of a picture at most: as many as most cameras make.
const MOST_PIXELS: u64 = 50_000_000;
/// The longer side of a picture as it is kept, px: a tray still shows its grains.
const LONGEST_SIDE: u32 = 2048;
/// The longer side of the one in a list, px.
const SMALL_SIDE: u32 = 360;
/// Quality of the pictures as they are kept, of a hundred.
const QUALITY: u8 = 84;

const ACCEPTED: &str = "Pictures are taken as JPEG, PNG or WebP.";

/// Makes a picture of what was sent.
///
/// # Errors
/// In a sentence, when it is no picture of a kind that is read, too large, or broken.
pub(crate) fn prepare(sent: &[u8]) -> Result<Picture, String> {
    if sent.len() > LARGEST_BYTES {
        return Err(format!(
            "The picture has {:.0} MB; at most {} MB are taken.",
            megas(sent.len() as u64),
            LARGEST_BYTES / 1024 / 1024
        ));
    }
    let broken = |_: image::ImageError| format!("The picture is broken. {ACCEPTED}");
    let mut reader = ImageReader::new(Cursor::new(sent))
        .with_guessed_format()
        .map_err(|error| format!("The picture cannot be read: {error}."))?;
    if !matches!(
        reader.format(),
        Some(ImageFormat::Jpeg | ImageFormat::Png | ImageFormat::WebP)
    ) {
        return Err(format!(
            "This is no such picture. {ACCEPTED} A phone that stores another kind can be told to send JPEG."
        ));
    }
    reader.limits(Limits::no_limits());
    let mut decoder = reader.into_decoder().map_err(broken)?;
    let (width, height) = decoder.dimensions();
    let pixels = u64::from(width) * u64::from(height);
    if pixels > MOST_PIXELS {
        return Err(format!(
            "The picture has {width} × {height} pixels, {:.0} million; at most {:.0} million are taken.",
            megas(pixels),
            megas(MOST_PIXELS)
        ));
    }
    let orientation = decoder.orientation().map_err(broken)?;
    let picture = DynamicImage::from_decoder(decoder).map_err(broken)?;
    // Made smaller before it is turned: that is much less to turn.
    let mut full = on_white(&within(&picture, LONGEST_SIDE));
    full.apply_orientation(orientation);
    Ok(Picture {
        small: jpeg(&within(&full, SMALL_SIDE))?,
        full: jpeg(&full)?,
        width: full.width(),
        height: full.height(),
    })
}

#[expect(clippy::cast_precision_loss, reason = "for a sentence")]
fn megas(number: u64) -> f64 {
    number as f64 / 1e6
}

/// No larger than this; never made larger.
fn within(picture: &DynamicImage, side: u32) -> DynamicImage {
    if picture.width().max(picture.height()) <= side {
        picture.clone()
    } else {
        picture.thumbnail(side, side)
    }
}

/// What lets light through lies on white.
fn on_white(picture: &DynamicImage) -> DynamicImage {
    if !picture.color().has_alpha() {
        return DynamicImage::ImageRgb8(picture.to_rgb8());
    }
    let seen = picture.to_rgba8();
    let mut flat = RgbImage::new(seen.width(), seen.height());
    for (to, from) in flat.pixels_mut().zip(seen.pixels()) {
        let [red, green, blue, alpha] = from.0.map(u16::from);
        let over = |value: u16| u8::try_from((value * alpha + 255 * (255 - alpha)) / 255);
        *to = Rgb([red, green, blue].map(|value| over(value).unwrap_or(u8::MAX)));
    }
    DynamicImage::ImageRgb8(flat)
}

fn jpeg(picture: &DynamicImage) -> Result<Vec<u8>, String> {
    let mut bytes = Vec::new();
    picture
        .write_with_encoder(JpegEncoder::new_with_quality(&mut bytes, QUALITY))
        .map_err(|error| format!("The picture could not be written: {error}."))?;
    Ok(bytes)
}

#[cfg(test)]
mod tests {
    use super::{LONGEST_SIDE, SMALL_SIDE, prepare};
    use image::{DynamicImage, ImageFormat, Rgb, RgbImage, Rgba, RgbaImage};
    use std::io::Cursor;

    /// Red on its left half and blue on its right.
    fn halves(width: u32, height: u32) -> DynamicImage {
        DynamicImage::ImageRgb8(RgbImage::from_fn(width, height, |x, _| {
            if 2 * x < width {
                Rgb([220, 20, 20])
            } else {
                Rgb([20, 20, 220])
            }
        }))
    }

    fn sent(picture: &DynamicImage, format: ImageFormat) -> Vec<u8> {
        let mut bytes = Cursor::new(Vec::new());
        picture.write_to(&mut bytes, format).expect("written");
        bytes.into_inner()
    }

    fn seen(bytes: &[u8]) -> RgbImage {
        image::load_from_memory(bytes).expect("a JPEG").to_rgb8()
    }

    /// An Exif segment (JEITA CP-3451, section 4.5; from memory) with an orientation and the name of
    /// a camera.
    fn with_exif(jpeg: &[u8], orientation: u8) -> Vec<u8> {
        let mut tiff = b"II*\0\x08\0\0\0\x02\0".to_vec();
        tiff.extend([0x0F, 0x01, 2, 0, 8, 0, 0, 0, 38, 0, 0, 0]); // make: eight letters at 38
        tiff.extend([0x12, 0x01, 3, 0, 1, 0, 0, 0, orientation, 0, 0, 0]);
        tiff.extend([0, 0, 0, 0]);
        tiff.extend(b"Acamera\0");
        let length = u8::try_from(2 + 6 + tiff.len()).expect("short");
        let mut all = jpeg[..2].to_vec();
        all.extend([0xFF, 0xE1, 0, length]);
        all.extend(b"Exif\0\0");
        all.extend(tiff);
        all.extend(&jpeg[2..]);
        all
    }

    #[test]
    fn every_kind_is_read_by_what_is_in_it_and_kept_within_its_size() {
        for format in [ImageFormat::Jpeg, ImageFormat::Png, ImageFormat::WebP] {
            let picture = prepare(&sent(&halves(3000, 1500), format)).expect("taken");
            assert_eq!(
                (picture.width, picture.height),
                (LONGEST_SIDE, LONGEST_SIDE / 2)
            );
            let (full, small) = (seen(&picture.full), seen(&picture.small));
            assert_eq!(full.dimensions(), (picture.width, picture.height));
            assert_eq!(small.width(), SMALL_SIDE);
            assert!(full.get_pixel(10, 10)[0] > 180 && full.get_pixel(2000, 10)[2] > 180);
        }
        let small = prepare(&sent(&halves(40, 30), ImageFormat::Png)).expect("taken");
        assert_eq!((small.width, small.height), (40, 30), "never made larger");
    }

    #[test]
    fn it_stands_upright_and_tells_nothing_of_its_camera() {
        let plain = sent(&halves(60, 40), ImageFormat::Jpeg);
        // Stored as seen by somebody who holds the camera upside down, or on its side.
        for (orientation, size, reds) in [
            (3, (60, 40), (55, 5)),
            (6, (40, 60), (5, 5)),
            (8, (40, 60), (5, 55)),
        ] {
            let told = with_exif(&plain, orientation);
            assert!(told.windows(7).any(|letters| letters == b"Acamera"));
            let picture = prepare(&told).expect("taken");
            let full = seen(&picture.full);
            assert_eq!(full.dimensions(), size, "{orientation}");
            assert!(full.get_pixel(reds.0, reds.1)[0] > 180, "{orientation}");
            for kept in [&picture.full, &picture.small] {
                assert!(!kept.windows(7).any(|letters| letters == b"Acamera"));
                assert!(!kept.windows(4).any(|letters| letters == b"Exif"));
            }
        }
    }

    #[test]
    fn what_lets_light_through_lies_on_white() {
        let clear = RgbaImage::from_pixel(20, 20, Rgba([0, 0, 0, 0]));
        let picture = prepare(&sent(&clear.into(), ImageFormat::Png)).expect("taken");
        assert!(
            seen(&picture.full)
                .get_pixel(9, 9)
                .0
                .iter()
                .all(|value| *value > 250)
        );
    }

    #[test]
    fn what_is_no_picture_or_too_large_a_one_is_told_in_a_sentence() {
        let gif = b"GIF89a\x01\0\x01\0\0\0\0;".to_vec();
        for none in [Vec::new(), b"<svg/>".to_vec(), gif] {
            let why = prepare(&none).expect_err("none");
            assert!(why.contains("JPEG, PNG or WebP"), "{why}");
        }
        let whole = sent(&halves(60, 40), ImageFormat::Png);
        let broken = prepare(&whole[..whole.len() / 2]).expect_err("half of one");
        assert!(broken.contains("broken"), "{broken}");
        // A header alone says how large it would be: nothing of that size is ever made room for.
        let mut large = whole;
        large[16..24].copy_from_slice(&[0, 0, 0x23, 0x28, 0, 0, 0x1A, 0x0B]);
        let checked = 8 + 8 + 13 + 4;
        let sum = crc(&large[12..29]).to_be_bytes();
        large[29..checked].copy_from_slice(&sum);
        let why = prepare(&large).expect_err("sixty megapixels");
        assert!(
            why.contains("9000 × 6667") && why.contains("50 million"),
            "{why}"
        );
    }

    /// The check sum of a PNG chunk (ISO/IEC 15948, annex D).
    fn crc(bytes: &[u8]) -> u32 {
        let step = |sum: u32, byte: &u8| {
            (0..8).fold(sum ^ u32::from(*byte), |sum, _| {
                (sum >> 1) ^ (0xEDB8_8320 * (sum & 1))
            })
        };
        !bytes.iter().fold(u32::MAX, step)
    }
}
