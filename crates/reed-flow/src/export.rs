//! A field in files that other programs read.

use std::io::{self, Write};

use crate::field::Field;
use crate::grid::Grid;
use crate::survey::Survey;

impl Survey {
    /// Its field with its maps in few bytes, little-endian: the field as [`Field::packed`] has it;
    /// a f32 unit of viscosity in m²/s and a u16 to each corner; a u16 to each cell for the seconds
    /// since the surface; a u16 for the share of bubbles, in 65535ths; a u32 for how many places
    /// were scored and five f32 to each: its x, y, z in m, the shares of muck and of bubbles that
    /// come by.
    pub fn packed(&self) -> Vec<u8> {
        let mut out = self.field.packed();
        let most = f32::from(u16::MAX);
        let steps = |value: f32, unit: f32| {
            #[expect(
                clippy::cast_possible_truncation,
                clippy::cast_sign_loss,
                reason = "clamped to fit"
            )]
            let steps = (value / unit).round().clamp(0.0, most) as u16;
            steps.to_le_bytes()
        };
        let unit = (self.field.thickest() / most).max(f32::MIN_POSITIVE);
        out.extend(unit.to_le_bytes());
        out.extend(
            self.field
                .nodes()
                .iter()
                .flat_map(|node| steps(node[3], unit)),
        );
        out.extend(
            self.maps
                .since_surface
                .iter()
                .flat_map(|seconds| steps(*seconds, 1.0)),
        );
        out.extend(
            self.maps
                .bubbles
                .iter()
                .flat_map(|share| steps(*share, 1.0 / most)),
        );
        out.extend(
            u32::try_from(self.places.all.len())
                .expect("places are some hundreds")
                .to_le_bytes(),
        );
        for place in &self.places.all {
            let [x, y, z] = place.at;
            out.extend(
                [x, y, z, place.muck, place.bubbles]
                    .iter()
                    .flat_map(|number| number.to_le_bytes()),
            );
        }
        out
    }
}

/// Takes numbers off the front of packed bytes.
struct Unpacking<'a>(&'a [u8]);

impl Unpacking<'_> {
    fn take<const N: usize>(&mut self) -> Option<[u8; N]> {
        let (taken, rest) = self.0.split_first_chunk::<N>()?;
        self.0 = rest;
        Some(*taken)
    }

    fn float(&mut self) -> Option<f32> {
        self.take().map(f32::from_le_bytes)
    }

    fn count(&mut self) -> Option<usize> {
        usize::try_from(u32::from_le_bytes(self.take()?)).ok()
    }
}

impl Field {
    /// Writes it in the legacy format of the Visualization Toolkit, as text: speeds and viscosity
    /// at the corners of the cells, 1 at those inside rock. Any general viewer of flows opens it.
    ///
    /// # Errors
    /// When writing fails.
    pub fn write_vtk(&self, title: &str, out: &mut impl Write) -> io::Result<()> {
        let [x, y, z] = self.grid().cells.map(|n| n + 1);
        let h = self.grid().h;
        // The title is one line.
        let title: String = title
            .chars()
            .map(|letter| if letter.is_control() { ' ' } else { letter })
            .take(200)
            .collect();
        writeln!(
            out,
            "# vtk DataFile Version 3.0\n{title}\nASCII\nDATASET STRUCTURED_POINTS"
        )?;
        writeln!(
            out,
            "DIMENSIONS {x} {y} {z}\nORIGIN 0 0 0\nSPACING {h} {h} {h}\nPOINT_DATA {}",
            x * y * z
        )?;
        writeln!(out, "VECTORS speed_m_per_s float")?;
        for [u, v, w, _] in self.nodes() {
            writeln!(out, "{u} {v} {w}")?;
        }
        writeln!(
            out,
            "SCALARS viscosity_m2_per_s float 1\nLOOKUP_TABLE default"
        )?;
        for node in self.nodes() {
            writeln!(out, "{}", node[3])?;
        }
        writeln!(out, "SCALARS rock int 1\nLOOKUP_TABLE default")?;
        for corner in self.corners() {
            writeln!(out, "{}", u8::from(self.is_in_rock(corner)))?;
        }
        Ok(())
    }

    /// Writes it as comma-separated values: a line to each corner of a cell, with its place in m,
    /// the speeds in m/s, the viscosity in m²/s, and 1 inside rock.
    ///
    /// # Errors
    /// When writing fails.
    pub fn write_csv(&self, out: &mut impl Write) -> io::Result<()> {
        writeln!(
            out,
            "x_m,y_m,z_m,u_m_per_s,v_m_per_s,w_m_per_s,viscosity_m2_per_s,rock"
        )?;
        for (corner, [u, v, w, viscosity]) in self.corners().zip(self.nodes()) {
            let [x, y, z] = corner.map(|index| index as f32 * self.grid().h);
            writeln!(
                out,
                "{x},{y},{z},{u},{v},{w},{viscosity},{}",
                u8::from(self.is_in_rock(corner))
            )?;
        }
        Ok(())
    }

    /// It in few bytes, little-endian, for a picture: as u32 the corners along x, y, z; as f32 the
    /// edge of a cell in m and the unit of speed in m/s; three i16 speeds to each corner, x
    /// fastest; a byte to each cell, 1 for rock. Speeds are good to a thirty-thousandth of the
    /// fastest.
    pub fn packed(&self) -> Vec<u8> {
        let [x, y, z] = self.grid().cells;
        let fastest = self
            .nodes()
            .iter()
            .flat_map(|node| &node[..3])
            .fold(0.0_f32, |most, speed| most.max(speed.abs()));
        let unit = (fastest / f32::from(i16::MAX)).max(f32::MIN_POSITIVE);
        let mut out = Vec::with_capacity(20 + 6 * self.nodes().len() + x * y * z);
        for n in [x + 1, y + 1, z + 1] {
            out.extend(
                u32::try_from(n)
                    .expect("a box has fewer cells than that")
                    .to_le_bytes(),
            );
        }
        out.extend(self.grid().h.to_le_bytes());
        out.extend(unit.to_le_bytes());
        for speed in self.nodes().iter().flat_map(|node| &node[..3]) {
            #[expect(
                clippy::cast_possible_truncation,
                reason = "the unit is such that it fits"
            )]
            out.extend(((speed / unit).round() as i16).to_le_bytes());
        }
        out.extend(self.grid().all().map(|cell| u8::from(self.is_solid(cell))));
        out
    }

    /// The field that [`Survey::packed`] put into bytes; `None` if they are of something else.
    pub fn unpacked(bytes: &[u8]) -> Option<Self> {
        let mut bytes = Unpacking(bytes);
        let corners = [bytes.count()?, bytes.count()?, bytes.count()?];
        let cells = [
            corners[0].checked_sub(1)?,
            corners[1].checked_sub(1)?,
            corners[2].checked_sub(1)?,
        ];
        let (nodes, all) = (
            corners.iter().product::<usize>(),
            cells.iter().product::<usize>(),
        );
        let (h, unit) = (bytes.float()?, bytes.float()?);
        if bytes.0.len() < 6 * nodes + all {
            return None;
        }
        let speed =
            |bytes: &mut Unpacking<'_>| Some(f32::from(i16::from_le_bytes(bytes.take()?)) * unit);
        let speeds: Vec<[f32; 3]> = (0..nodes)
            .map(|_| Some([speed(&mut bytes)?, speed(&mut bytes)?, speed(&mut bytes)?]))
            .collect::<Option<_>>()?;
        let solid: Vec<bool> = (0..all)
            .map(|_| bytes.take::<1>().map(|[rock]| rock == 1))
            .collect::<Option<_>>()?;
        let unit = bytes.float()?;
        let node = |[u, v, w]: [f32; 3]| {
            Some([u, v, w, f32::from(u16::from_le_bytes(bytes.take()?)) * unit])
        };
        let nodes = speeds.into_iter().map(node).collect::<Option<_>>()?;
        Some(Self::restored(Grid { cells, h }, nodes, solid))
    }

    /// The corners in the order of the nodes.
    fn corners(&self) -> impl Iterator<Item = [usize; 3]> + use<> {
        let [x, y, z] = self.grid().cells;
        (0..=z).flat_map(move |k| (0..=y).flat_map(move |j| (0..=x).map(move |i| [i, j, k])))
    }

    /// All cells at a corner are rock.
    fn is_in_rock(&self, corner: [usize; 3]) -> bool {
        let pair = |axis: usize| {
            [
                corner[axis].saturating_sub(1),
                corner[axis].min(self.grid().cells[axis] - 1),
            ]
        };
        pair(0).iter().all(|i| {
            pair(1)
                .iter()
                .all(|j| pair(2).iter().all(|k| self.is_solid([*i, *j, *k])))
        })
    }
}

#[cfg(test)]
mod tests {
    use crate::field::Field;
    use crate::grid::Grid;

    #[test]
    fn files_have_a_value_for_every_corner_and_mark_the_rock() {
        let grid = Grid {
            cells: [3, 4, 5],
            h: 0.1,
        };
        let mut solid = vec![false; grid.len()];
        for cell in [[1, 1, 0], [2, 1, 0], [1, 2, 0], [2, 2, 0]] {
            solid[grid.at(cell[0], cell[1], cell[2])] = true;
        }
        let field = Field::new(
            &grid,
            &[grid.zeros(), grid.zeros(), grid.zeros()],
            &grid.zeros(),
            &solid,
        );
        let packed = field.packed();
        assert_eq!(packed.len(), 20 + 6 * 120 + 60);
        assert!(
            packed[..4] == 4_u32.to_le_bytes()
                && packed[20 + 6 * 120..]
                    .iter()
                    .filter(|byte| **byte == 1)
                    .count()
                    == 4
        );
        let (mut vtk, mut csv) = (Vec::new(), Vec::new());
        field
            .write_vtk("A tank\nof two lines", &mut vtk)
            .expect("memory takes everything");
        field.write_csv(&mut csv).expect("memory takes everything");
        let vtk = String::from_utf8(vtk).expect("text");
        let lines: Vec<&str> = vtk.lines().collect();
        assert_eq!(
            lines[1..5],
            [
                "A tank of two lines",
                "ASCII",
                "DATASET STRUCTURED_POINTS",
                "DIMENSIONS 4 5 6"
            ]
        );
        assert_eq!(
            lines.len(),
            9 + 3 * 120 + 4,
            "three values of 120 corners, under their heads"
        );
        assert_eq!(
            vtk.split("rock int 1")
                .nth(1)
                .expect("rock is there")
                .lines()
                .filter(|line| *line == "1")
                .count(),
            2
        );
        let csv = String::from_utf8(csv).expect("text");
        assert_eq!(csv.lines().count(), 121);
        assert_eq!(csv.lines().filter(|line| line.ends_with(",1")).count(), 2);
        assert!(
            csv.lines()
                .nth(2)
                .expect("a second corner")
                .starts_with("0.1,0,0,")
        );
    }
}
