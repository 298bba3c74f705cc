import { knownExporters as exporters } from '@mesura/core/formats/known';
import { commands } from './commands';

/** One line a command. */
export const commandLines = commands
  .map(({ name, takes, summary }) =>
    takes.startsWith('FILE')
      ? `mesura ${name.padEnd(10)} ${takes} [options]${takes === 'FILE' ? '  ' : ' '}  ${summary}`
      : `mesura ${name.padEnd(10)} ${takes}   ${summary}`,
  )
  .join('\n');

/** What `mesura --help` prints. */
export const usage = `${commandLines}

FILE is a Mesura project file, or - for standard input. Elements are named by name or identifier.

At a running server, in place of FILE (all studies; drafts of sheets are of files, a server has those issued)
  --server ADDRESS          http://127.0.0.1:3000
  --project NAME            by name or identifier, where there are several
  Where people sign in: a token of one's own in MESURA_TOKEN, or MESURA_USER and MESURA_PASSWORD.

Network (the changes come on top of the condition; verify and ratings know --condition only)
  --condition NAME          a condition of the project, or maximum, minimum; may be repeated (not by matrix)
  --case max|min            the same by the sources alone (default max)
  --open SWITCH             taken as open; may be repeated, as may the next ones
  --close SWITCH            taken as closed
  --out ELEMENT             out of service
  --earthed LINE            out of service and earthed at both ends
  --format table|csv|json   form of the answer (default table)
  --columns NAMES           these columns of tables and CSV, by their names in CSV, separated by commas
  --set ELEMENT.FIELD=VALUES    values for this run alone: 8, a list 8,10, a range 1..5:0.5; several make a grid of cases

Faults
  --method iec60909|c37|superposition    how faults are computed (default iec60909)
  --kind 3ph|2ph|2phE|1ph|all            kind of fault (default 3ph)
  --odd L1|L2|L3            faulted phase of 1ph, sound phase of 2ph and 2phE (default L1)
  --phase-r, --phase-x OHM  impedance of each faulted phase up to their common point
  --earth-r, --earth-x OHM  impedance from there to earth
  --at BUS                  a bus; may be repeated (default all buses)
  --along LINE:PERCENT      inside a line, from end 1
  --end LINE:1|2            at an end of a line whose breaker there has opened
  --outage ELEMENT          once more without this element; may be repeated
  --show branches|buses|working|contributions    for each place; may be repeated
 IEC 60909-0
  --peak equivalentFrequency|smallestRatio|ratioAtPlace
  --charging auto|always|never    line capacitances in the zero sequence (auto: by the earthing)
  --breaking S              breaking current Ib and d.c. component at this minimum time delay
  --duration S              thermal equivalent current Ith for this duration
 IEEE C37.010
  --prefault PERCENT        voltage before the fault (default 100)
  --current E/X|E/Z         (default E/X)
  --parting CYCLES, --s S   contact parting and S factor of the breaker (default 3 and 1.1)
 Several at once (iec60909, superposition)
  --fault KIND[/PHASE]@PLACE        1ph/L2@BUS, 2phE@LINE:40%; may be repeated
  --break ELEMENT:TERMINAL/PHASES   broken conductors: LINE:1/L1,L3; may be repeated

Around (iec60909, solid faults; places, kind and condition as above)
  --branches NUMBER         the nearest branches of each place (default 10)
  --outages on|off          also with each of these branches out in turn (default on)

Flow
  --show buses|branches|sources|losses    which tables (default buses); may be repeated
  --control on|off          taps hold voltages and reactive limits are heeded (default on)
  --scale ELEMENT:PERCENT   a load, motor or drive at this share of its power; may be repeated
  --start MOTOR             the voltages while this motor starts, and its run-up
  --reduction FACTOR        its line current over that of direct starting: 0.333 star-delta (default 1)

Outages
  --show all|failed         which outages a table lists (default all)

Ratings
  --show making|breaking|thermal|unknown    which summaries (default all); may be repeated

Grading (all conditions unless some are named)
  --show all|failed         which pairs a table lists (default all)

Directions (all conditions unless some are named)
  --faults phase|earth      what is measured (default both)

Propose (all conditions unless some are named)
  --device NAMES            these devices, names separated by commas
  --path NAME               this device and all that follow it towards the sources (default all devices)
  --station NAME            the devices of a station: what hangs together without a line in between
  --strategy fastest|widest|least        lowest times, more margin than asked, or settings that hold stay (default fastest)
  --assumed                 devices whose figures lean on assumed data, too
  --write OUT               the project with everything taken over, as a file

Reach (of lines as drawn)
  --from KV                 line ends from this nominal voltage on, and those with distance protection (default 50)
  --station NAME            of this station
  --merged                  lines between the same two busbars count as one

Coverage (all conditions unless some are named)
  --line NAME               this line alone (default all with distance protection)
  --places N                places on each line (default 21)
  --resistance OHM          of the faults; may be repeated (default 0)
  --arc                     an arc added by A. R. van C. Warrington's formula
  --outage ELEMENT          also without this element; may be repeated; "neighbours": each at the busbars of the line

Package (over all conditions; a stored package of the line is taken)
  --line NAME               the line, or one of those that hang together at tees
  --scheme stepped|permissiveUnderreach|permissiveOverreach|blocking|unblocking|differential    (default stepped)
  --criterion 1|2|3a|3b|4|5|6|7|8|9|10|11|12|13    of loadability, NERC PRC-023 (default 1)
  --format table|csv|json|xlsx

Differential (all conditions unless some are named)
  --device NAME             this relay alone

Trial (one trial a condition; without a fault the trials kept in the project)
  --fault, --break          what happens, as for faults
  --trial NAME              one of the kept trials
  --outage ELEMENT          also out of service
  --stuck SWITCH            a breaker that fails; may be repeated, as may the next ones
  --dead DEVICE             a relay or switch that does nothing
  --silent NAME             a line package, or a relay of a line differential, whose channel carries nothing
  --gone S                  the fault goes out once it has had no current for so long
  --within S                cleared in time when within this (default by the rulebook)

Earth (all conditions unless some are named; faults at stations with their earthing given)
  --at BUS                  a busbar; may be repeated (default one of each level that lines end at)
  --kind 1ph|2phE           fault (default 1ph)
  --along LINE              faults at the towers of a line instead, counted from its first end, in the first condition
  --study NAME              a study of its own instead: potentials and currents position by position
  --carson series|twoTerm|complexDepth    impedances with earth as the return (default as the project has it)
  --duration S              of the fault (default until the protection clears)

Circuits (all conditions unless some are named)
  --at BUS                  board; may be repeated (default all of low voltage)
  --propose both|section|device    the smallest section and the device that do, and the longest cable
  --show working            of each circuit

Boards (all conditions unless some are named)
  --at NAME                 board or section; may be repeated (default all)
  --show bill|links         the bill of material, or how they feed each other, in place of the ratings

Search (all conditions unless some are named)
  --line NAME               this line or busbar alone
  --places N                places inside each line (default 9)
  --kind 2ph|2phE|1ph       one kind alone (default all)
  --resistance OHM          of the faults; may be repeated (default 0)
  --outage ELEMENT          once more without this element; "lines": each line
  --fails breaker|device|battery|channel|all    what fails, one at a time; may be repeated

Arc (all conditions unless some are named)
  --at BUS                  this busbar alone; may be repeated
  --edition 2018|2002       of IEEE 1584 (default as the project has it)
  --longest S               counted where nothing clears earlier
  --compare                 the other edition beside
  --maintenance             with the maintenance settings of all devices on
  --show working            how the energy that decides came about

Curve
  --device NAME             relay, fuse, breaker with a release, recloser
  --faults phase|earth|negative    what it measures (default phase)
  --to AMPERES              end of the curve (default 20000)

Matrix
  --sequence positive|negative|zero      (default positive)
  --method iec60909|superposition        impedances for faults, or as the network runs

Verify
  --against FILE            an earlier state of the project: what got worse, what better
  --show all|failed         which checks a table lists (default failed)
  --format table|csv|json|junit

Sheet (a draft; without a name the list of all)
  --device NAME, --package NAME, --at BUS    the sheet of a device, of a line package, the arc label of a busbar
  --format table|csv|json|pdf|xlsx    pdf and xlsx go to standard output
  --revision NUMBER         of --device, at a server: what was issued (default the latest)

Batch (kept in the project; all answers as one table)
  --name NAME               of the batch (default the only one)
  --against FILE            an earlier state of the project: what became other
  --format table|csv|json|xlsx

Script (TypeScript in a sandbox, see docs/scripts.md; its files are written beside)
  --name NAME               of a script that is kept in the project
  --run SCRIPT              or a file
  --write OUT               the project as the script leaves it

Formula (no project)
  formula                   the list
  formula NAME              what it takes and gives, its source, an example
  formula NAME '{…}'        the result, from inputs as JSON

Import and export
  --into PROJECT            the project that FILE is to go into (default a new one)
  --take new,changed,rewired,gone    what of it is taken, where it meets elements that are there already
  --beside                  everything as new, beside what is there
  --format table|csv|json|project    what it would bring (default table), or the project with it
  --as ${exporters.map(({ id }) => id).join('|')}    what is written to standard output (default tables, a workbook)

Exit codes: 0 done, 1 bad input or nothing computed, 2 wrong usage, 3 computed, but something does not hold or deviates.
`;
