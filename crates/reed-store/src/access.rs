//! Who may come in from other machines: one passphrase, and who has given it.
//!
//! A file of its own beside the database, since it belongs to this machine and not to the records: a
//! copy of those neither carries it nor brings an old one back. It is read anew each time, so that
//! what the command line changes holds at once for a program that runs.

use std::fs::{self, File};
use std::io::Write as _;
use std::path::{Path, PathBuf};

use argon2::Argon2;
use argon2::password_hash::{PasswordHasher as _, PasswordVerifier as _};
use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};

use crate::StoreError;
use crate::photos::digest;

/// So long somebody stays logged in.
pub const STAYS: SignedDuration = SignedDuration::from_hours(90 * 24);
/// So many may be logged in; the first of them goes.
const MOST_SESSIONS: usize = 50;
/// Characters of a passphrase, at least; a judgement: three plain words have more.
pub const SHORTEST: usize = 10;
/// Characters of a passphrase, at most.
pub const LONGEST: usize = 200;

/// The file.
#[derive(Debug)]
pub struct Access(PathBuf);

/// What it holds.
#[derive(Debug, Default, Serialize, Deserialize)]
struct Kept {
    /// The passphrase, as argon2id leaves it; none where everybody may come in.
    passphrase: Option<String>,
    sessions: Vec<Session>,
    /// What stands in the address of the calendar feed; none where there is none. Kept as it is, since
    /// the page shows it again.
    #[serde(default)]
    feed: Option<String>,
}

/// Somebody who has given the passphrase.
#[derive(Debug, Serialize, Deserialize)]
struct Session {
    /// SHA-256 of what the browser shows: the file alone opens nothing.
    digest: String,
    until: Timestamp,
}

impl Access {
    /// The one beside a database.
    pub fn beside(database: &Path) -> Self {
        Self(database.with_file_name("access.json"))
    }

    /// A passphrase is set: nobody comes in without it.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub fn is_needed(&self) -> Result<bool, StoreError> {
        Ok(self.read()?.passphrase.is_some())
    }

    /// Sets the passphrase, or none; whoever was logged in is so no longer, and the calendar feed has
    /// no address.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn set(&self, passphrase: Option<&str>) -> Result<(), StoreError> {
        let passphrase = passphrase
            .map(|passphrase| Argon2::default().hash_password(passphrase.as_bytes()))
            .transpose()
            .map_err(|why| StoreError::unreadable("the passphrase", why.to_string()))?
            .map(|hash| hash.to_string());
        self.change(|kept| {
            *kept = Kept {
                passphrase,
                sessions: Vec::new(),
                feed: None,
            };
        })
    }

    /// Lets somebody in who gives the passphrase; what their browser shows from now on. Takes some
    /// hundredths of a second, on purpose.
    ///
    /// # Errors
    /// When the file cannot be read or written.
    pub fn log_in(&self, given: &str, now: Timestamp) -> Result<Option<String>, StoreError> {
        let Some(hash) = self.read()?.passphrase else {
            return Ok(None);
        };
        let known = argon2::PasswordHash::new(&hash)
            .map_err(|why| StoreError::unreadable("the passphrase", why.to_string()))?;
        if Argon2::default()
            .verify_password(given.as_bytes(), &known)
            .is_err()
        {
            return Ok(None);
        }
        let token = drawn()?;
        let session = Session {
            digest: digest(token.as_bytes()),
            until: now + STAYS,
        };
        let mut is_in = false;
        self.change(|kept| {
            // It may have been changed while the old one was being compared.
            if kept.passphrase.as_ref() == Some(&hash) {
                kept.sessions.retain(|session| session.until > now);
                if kept.sessions.len() >= MOST_SESSIONS {
                    kept.sessions.remove(0);
                }
                kept.sessions.push(session);
                is_in = true;
            }
        })?;
        Ok(is_in.then_some(token))
    }

    /// Whether whoever shows this may come in.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub fn admits(&self, token: &str, now: Timestamp) -> Result<bool, StoreError> {
        let kept = self.read()?;
        let shown = digest(token.as_bytes());
        Ok(kept.passphrase.is_none()
            || kept
                .sessions
                .iter()
                .any(|session| session.digest == shown && session.until > now))
    }

    /// What stands in the address of the calendar feed, if it has one.
    ///
    /// # Errors
    /// When the file cannot be read.
    pub fn feed(&self) -> Result<Option<String>, StoreError> {
        Ok(self.read()?.feed)
    }

    /// Draws an address for the calendar feed, or takes it away; what was subscribed before ends.
    ///
    /// # Errors
    /// When the file cannot be written, or the system has no chance to draw from.
    pub fn set_feed(&self, is_wanted: bool) -> Result<(), StoreError> {
        let drawn = is_wanted.then(drawn).transpose()?;
        self.change(|kept| kept.feed = drawn)
    }

    /// Logs somebody out; all others stay.
    ///
    /// # Errors
    /// When the file cannot be written.
    pub fn log_out(&self, token: &str) -> Result<(), StoreError> {
        let shown = digest(token.as_bytes());
        self.change(|kept| kept.sessions.retain(|session| session.digest != shown))
    }

    /// A file that is there and cannot be read lets nobody in.
    fn read(&self) -> Result<Kept, StoreError> {
        match fs::read(&self.0) {
            Ok(bytes) => serde_json::from_slice(&bytes)
                .map_err(|why| StoreError::unreadable(self.0.display().to_string(), why)),
            Err(error) if error.kind() == std::io::ErrorKind::NotFound => Ok(Kept::default()),
            Err(source) => Err(StoreError::file(&self.0, source)),
        }
    }

    /// Changes the file, whole or not at all; another program that does so waits.
    fn change(&self, change: impl FnOnce(&mut Kept)) -> Result<(), StoreError> {
        let failed = |source| StoreError::file(&self.0, source);
        let turn = private(&self.0.with_extension("lock")).map_err(failed)?;
        turn.lock().map_err(failed)?;
        let mut kept = self.read()?;
        change(&mut kept);
        let under_way = self.0.with_extension("part");
        let text = serde_json::to_vec_pretty(&kept)
            .map_err(|why| StoreError::unreadable(self.0.display().to_string(), why))?;
        private(&under_way)
            .and_then(|mut file| {
                file.set_len(0)?;
                file.write_all(&text)?;
                file.sync_all()
            })
            .and_then(|()| fs::rename(&under_way, &self.0))
            .map_err(failed)
    }
}

/// What nobody can guess.
pub(crate) fn drawn() -> Result<String, StoreError> {
    let mut drawn = [0; 32];
    getrandom::fill(&mut drawn)
        .map_err(|why| StoreError::unreadable("the system's chance", why.to_string()))?;
    Ok(digest(&drawn))
}

/// A file that only its owner reads and writes.
pub(crate) fn private(path: &Path) -> std::io::Result<File> {
    let mut options = File::options();
    options.create(true).truncate(false).read(true).write(true);
    #[cfg(unix)]
    std::os::unix::fs::OpenOptionsExt::mode(&mut options, 0o600);
    options.open(path)
}

#[cfg(test)]
mod tests {
    use super::{Access, STAYS};
    use jiff::{SignedDuration, Timestamp};

    const NOW: Timestamp = Timestamp::UNIX_EPOCH;

    #[test]
    fn only_who_gives_the_passphrase_comes_in_until_it_is_changed() {
        let folder = tempfile::TempDir::new().expect("a folder");
        let access = Access::beside(&folder.path().join("reed.db"));
        assert!(!access.is_needed().expect("readable"));
        assert!(
            access.admits("", NOW).expect("readable"),
            "nothing is set: this machine alone"
        );

        access.set(Some("three plain words")).expect("written");
        assert!(access.is_needed().expect("readable"));
        assert!(!access.admits("", NOW).expect("readable"));
        assert_eq!(
            access.log_in("three plain word", NOW).expect("compared"),
            None
        );
        let logged_in = || {
            let token = access.log_in("three plain words", NOW).expect("compared");
            token.expect("right")
        };
        let (phone, desk) = (logged_in(), logged_in());
        assert_ne!(phone, desk);
        let admits = |token: &str, at| access.admits(token, at).expect("readable");
        assert!(admits(&phone, NOW) && admits(&desk, NOW));
        assert!(
            !admits(&phone, NOW + STAYS + SignedDuration::from_secs(1)),
            "in the end it runs out"
        );

        access.log_out(&phone).expect("written");
        assert!(!admits(&phone, NOW) && admits(&desk, NOW));
        access.set(Some("three other words")).expect("written");
        assert!(!admits(&desk, NOW), "a change ends all of them");

        let text = std::fs::read_to_string(folder.path().join("access.json")).expect("there");
        assert!(text.contains("argon2id") && !text.contains("three other"));
        #[cfg(unix)]
        {
            use std::os::unix::fs::PermissionsExt as _;
            let mode = std::fs::metadata(folder.path().join("access.json")).expect("there");
            assert_eq!(mode.permissions().mode() & 0o777, 0o600);
        }
    }

    #[test]
    fn a_feed_has_an_address_of_its_own_until_another_is_drawn() {
        let folder = tempfile::TempDir::new().expect("a folder");
        let access = Access::beside(&folder.path().join("reed.db"));
        assert_eq!(access.feed().expect("readable"), None);
        access.set_feed(true).expect("written");
        let first = access.feed().expect("readable").expect("drawn");
        assert!(first.len() >= 32, "{first}");
        access.set_feed(true).expect("written");
        assert_ne!(access.feed().expect("readable"), Some(first));
        access.set_feed(false).expect("written");
        assert_eq!(access.feed().expect("readable"), None);
    }

    #[test]
    fn what_cannot_be_read_lets_nobody_in() {
        let folder = tempfile::TempDir::new().expect("a folder");
        let access = Access::beside(&folder.path().join("reed.db"));
        std::fs::write(folder.path().join("access.json"), "{ half").expect("written");
        assert!(access.is_needed().is_err() && access.admits("x", NOW).is_err());
    }
}
