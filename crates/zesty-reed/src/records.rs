//! Records of years: looked through, copied, put back.

use std::fs::File;
use std::io::BufWriter;
use std::path::{Path, PathBuf};
use std::sync::Arc;

use anyhow::Context;
use jiff::Zoned;
use reed_store::{Store, archive, backup, copies};
use reed_web::Clock;

use crate::serve::{self, DATABASE, Lock};

/// The file of a folder's records.
fn database(folder: &Path) -> anyhow::Result<PathBuf> {
    let file = folder.join(DATABASE);
    anyhow::ensure!(
        file.exists(),
        "There are no records in {}. Give their folder with --data.",
        folder.display()
    );
    Ok(file)
}

/// Looks through everything.
pub(crate) fn check(folder: &Path) -> anyhow::Result<String> {
    let file = database(folder)?;
    let problems =
        backup::problems(&file).with_context(|| format!("{} cannot be read", file.display()))?;
    anyhow::ensure!(problems.is_empty(), "{}", told(&file, &problems));
    Ok(format!("{} is sound.\n", file.display()))
}

/// Opens the records of a folder that was taken. A damaged file is never written to: it is opened to
/// be looked at, and the page “Your data” puts a copy back.
pub(crate) fn open(folder: &Path) -> anyhow::Result<Arc<Store>> {
    let file = folder.join(DATABASE);
    if !file.exists() {
        return serve::open(folder);
    }
    let problems = backup::quick_problems(&file).with_context(|| {
        format!(
            "{} cannot be read; nothing was written to it",
            file.display()
        )
    })?;
    if problems.is_empty() {
        return serve::open(folder);
    }
    eprintln!("{}", told(&file, &problems));
    eprintln!("Until then it can be looked at, and nothing is stored.");
    Ok(Arc::new(Store::open_damaged(&file, problems)?))
}

/// What is wrong, and what can be done.
fn told(file: &Path, problems: &[String]) -> String {
    let newest = copies::all(file).into_iter().next();
    let copy = newest.map_or_else(|| "FILE".to_owned(), |copy| copy.file.display().to_string());
    const SHOWN: usize = 5;
    let shown: Vec<&str> = problems.iter().take(SHOWN).map(String::as_str).collect();
    format!(
        "{} is damaged, and nothing was written to it:\n  {}\nPut the newest copy back on the page “Your data”, or with `zesty-reed restore {copy}`; what stands is kept aside.",
        file.display(),
        shown.join("\n  ")
    )
}

/// A name with the moment, for a file that was given none.
fn named(pattern: &str) -> PathBuf {
    PathBuf::from(Zoned::now().strftime(pattern).to_string())
}

/// Writes everything as one zip file.
pub(crate) fn export(folder: &Path, to: Option<PathBuf>) -> anyhow::Result<String> {
    let store = Store::open_to_read(&database(folder)?)?;
    let to = to.unwrap_or_else(|| named("zesty-reed-%Y-%m-%d-%H%M%S.zip"));
    let not_made = || format!("{} was not made", to.display());
    let mut out = BufWriter::new(File::create_new(&to).with_context(not_made)?);
    let written = reed_web::write_everything(&store, &Clock::System, &mut out)
        .map_err(anyhow::Error::from)
        .and_then(|()| Ok(out.into_inner()?.sync_all()?));
    if written.is_err() {
        // Half of everything would be taken for all of it.
        let _ = std::fs::remove_file(&to);
    }
    written.with_context(not_made)?;
    Ok(format!("{} holds everything.\n", to.display()))
}

/// Takes such a zip file in.
pub(crate) fn take_in(folder: &Path, from: &Path) -> anyhow::Result<String> {
    let _lock = Lock::take(folder)?;
    let store = open(folder)?;
    let taken = archive::take_in(&store, from);
    store.close()?;
    let taken = taken.with_context(|| format!("{} was not taken in", from.display()))?;
    Ok(format!(
        "Taken in: {} tanks, {} rows, {} pictures.\n",
        taken.tanks, taken.rows, taken.pictures
    ))
}

/// Copies everything.
pub(crate) fn backup(folder: &Path, to: Option<PathBuf>) -> anyhow::Result<String> {
    let file = database(folder)?;
    let to = to.unwrap_or_else(|| named("zesty-reed-%Y-%m-%d-%H%M%S.db"));
    anyhow::ensure!(
        !to.exists(),
        "{} is there already; give another name.",
        to.display()
    );
    backup::copy_with_photos(&file, &to)
        .with_context(|| format!("{} was not made", to.display()))?;
    Ok(format!(
        "{} holds everything, and is sound.\n",
        to.display()
    ))
}

/// Puts a copy in place.
pub(crate) fn restore(folder: &Path, from: &Path) -> anyhow::Result<String> {
    let _lock = Lock::take(folder)?;
    anyhow::ensure!(from.exists(), "There is no file {}.", from.display());
    let aside = backup::restore(from, &folder.join(DATABASE)).with_context(|| {
        format!(
            "{} was not put back; what stood there is in its place or aside",
            from.display()
        )
    })?;
    Ok(match aside {
        Some(aside) => format!(
            "Put back. What stood there is kept as {}.\n",
            aside.display()
        ),
        None => "Put back.\n".to_owned(),
    })
}
