//! The passphrase, from whoever sits at the machine.

use std::io::{IsTerminal as _, stdin};
use std::path::Path;

use anyhow::Context;
use reed_store::access::{Access, LONGEST, SHORTEST};

use crate::serve::{DATABASE, make_private};

/// Sets it, or removes it.
pub(crate) fn run(folder: &Path, remove: bool) -> anyhow::Result<String> {
    make_private(folder)
        .with_context(|| format!("The data folder {} cannot be made", folder.display()))?;
    let access = Access::beside(&folder.join(DATABASE));
    let failed = || format!("{} cannot be written", folder.display());
    if remove {
        access.set(None).with_context(failed)?;
        return Ok(
            "No passphrase is asked for any more, and other machines are not let in.\n".to_owned(),
        );
    }
    let passphrase = asked()?;
    let characters = passphrase.chars().count();
    anyhow::ensure!(
        (SHORTEST..=LONGEST).contains(&characters),
        "The passphrase has {characters} characters; {SHORTEST} to {LONGEST} are accepted. Three or four plain words are easy to type on a phone and hard to guess."
    );
    access.set(Some(&passphrase)).with_context(failed)?;
    Ok("The passphrase is set. Whoever was logged in is asked for it.\n".to_owned())
}

fn asked() -> anyhow::Result<String> {
    if !stdin().is_terminal() {
        let mut line = String::new();
        stdin().read_line(&mut line)?;
        return Ok(line.trim_end_matches(['\r', '\n']).to_owned());
    }
    let first = rpassword::prompt_password("The passphrase: ")?;
    let again = rpassword::prompt_password("Once more: ")?;
    anyhow::ensure!(
        first == again,
        "These are not the same; nothing was changed."
    );
    Ok(first)
}
