//! Records of years: looked through, copied, put back.

use std::path::{Path, PathBuf};

use anyhow::Context;
use jiff::Zoned;
use reed_store::{backup, nightly};

use crate::serve::{DATABASE, Lock};

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

/// A damaged file is never written to: the program does not start on it.
pub(crate) fn are_sound(folder: &Path) -> anyhow::Result<()> {
    let file = folder.join(DATABASE);
    if !file.exists() {
        return Ok(());
    }
    let problems = backup::quick_problems(&file).with_context(|| {
        format!(
            "{} cannot be read; nothing was written to it",
            file.display()
        )
    })?;
    anyhow::ensure!(problems.is_empty(), "{}", told(&file, &problems));
    Ok(())
}

/// What is wrong, and what can be done.
fn told(file: &Path, problems: &[String]) -> String {
    let newest = nightly::all(file).into_iter().next();
    let copy = newest.map_or_else(|| "FILE".to_owned(), |copy| copy.file.display().to_string());
    const SHOWN: usize = 5;
    let shown: Vec<&str> = problems.iter().take(SHOWN).map(String::as_str).collect();
    format!(
        "{} is damaged, and nothing was written to it:\n  {}\nPut the newest copy back with `zesty-reed restore {copy}`; what stands is kept aside.",
        file.display(),
        shown.join("\n  ")
    )
}

/// Copies everything.
pub(crate) fn backup(folder: &Path, to: Option<PathBuf>) -> anyhow::Result<String> {
    let file = database(folder)?;
    let to = to.unwrap_or_else(|| {
        PathBuf::from(
            Zoned::now()
                .strftime("zesty-reed-%Y-%m-%d-%H%M%S.db")
                .to_string(),
        )
    });
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
