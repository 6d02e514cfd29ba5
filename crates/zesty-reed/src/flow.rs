//! The flow of a tank, as text and as files.

use std::fmt::Write as _;
use std::fs::File;
use std::io::{BufWriter, Write as _};
use std::ops::ControlFlow;
use std::path::Path;

use anyhow::Context as _;
use reed_core::document::Document;
use reed_core::document::start;
use reed_core::flow::{Facts, TankScene, words};
use reed_core::tank::Tank;
use reed_core::units::Units;
use reed_flow::{Settings, Survey};

/// What the flow of a tank is, from a file or a set-up by its id; writes the field where asked to.
pub(crate) fn run(file: &Path, vtk: Option<&Path>, csv: Option<&Path>) -> anyhow::Result<String> {
    let tank = match file.to_str().and_then(start::by_id) {
        Some(start) if !file.exists() => start.tank(),
        _ => {
            let text = std::fs::read_to_string(file)
                .with_context(|| format!("{} cannot be read", file.display()))?;
            Document::read(&text)
                .with_context(|| format!("{} is no tank", file.display()))?
                .document
                .tank
        }
    };
    let units = Units::BASE;
    let refusals = tank.refusals(&units);
    anyhow::ensure!(
        refusals.is_empty(),
        "{}",
        refusals
            .iter()
            .map(ToString::to_string)
            .collect::<Vec<_>>()
            .join("\n")
    );
    let (survey, facts) = settled(&tank).with_context(|| {
        format!(
            "Nothing in {} moves its water: there is no flow to tell of.",
            tank.name
        )
    })?;

    // Writing to a string cannot fail.
    let mut said = String::new();
    let _ = writeln!(said, "{}\n", tank.name);
    for sentence in words::all(&facts) {
        let _ = writeln!(said, "{sentence}");
    }
    let _ = writeln!(
        said,
        "\nShare of all muck that comes to rest, seen from above, with its band:\n{}",
        words::map(&facts)
    );
    if !facts.best.is_empty() {
        let _ = writeln!(
            said,
            "\nThe best places for one more intake, as likely as the flow thought best:"
        );
        for spot in &facts.best {
            let _ = writeln!(said, "- {}", words::spot(spot, &units));
        }
    }
    if !facts.left_out.is_empty() {
        let _ = writeln!(said, "\nNot shown as it is:");
        for left in &facts.left_out {
            let _ = writeln!(said, "- {} {}.", left.name, left.why);
        }
    }
    let _ = writeln!(
        said,
        "\nBands hold under eddies half and twice as strong, a grid half as fine, and muck that is harder to lift."
    );
    for (path, is_vtk) in vtk
        .map(|path| (path, true))
        .into_iter()
        .chain(csv.map(|path| (path, false)))
    {
        let cannot = || format!("{} cannot be written", path.display());
        let mut out = BufWriter::new(File::create(path).with_context(cannot)?);
        if is_vtk {
            survey.field.write_vtk(&tank.name, &mut out)
        } else {
            survey.field.write_csv(&mut out)
        }
        .with_context(cannot)?;
        out.flush().with_context(cannot)?;
        let _ = writeln!(said, "Written: {}", path.display());
    }
    Ok(said)
}

/// The flow of a tank and what it means, settled with all processors; `None` where nothing moves
/// the water.
pub(crate) fn settled(tank: &Tank) -> Option<(Survey, Facts)> {
    let drawn = TankScene::of(tank);
    if drawn.is_still() {
        return None;
    }
    let threads = std::thread::available_parallelism().map_or(1, usize::from);
    let settings = Settings::of(&drawn.scene);
    eprintln!(
        "Settling the flow four times, in cells of {:.1} cm: some ten seconds on two cores.",
        settings.fine * 100.0
    );
    let survey = drawn
        .scene
        .survey(settings, threads, &|_| ControlFlow::Continue(()))
        .expect("nobody breaks it off");
    let facts = Facts::of(tank, &drawn, &survey);
    Some((survey, facts))
}
