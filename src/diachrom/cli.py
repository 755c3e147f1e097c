"""The command line. Errors: exit status 2 and one line on standard error."""

import gc
import os
import shutil
import sys
import tempfile
from pathlib import Path
from typing import Annotated, Any

import typer

from diachrom import __version__, config
from diachrom.errors import DataFolderNotWritable, DiachromError, InvalidInput, pluralize

LARGEST_DOCUMENT, LARGEST_FILE = 1_000_000, 10_000_000  # bytes

app = typer.Typer(
    add_completion=False, no_args_is_help=True, help="Mix lure paint by drops and see it as it will be sprayed."
)

Data = Annotated[Path | None, typer.Option("--data", help="The folder that holds everything (or DIACHROM_DATA).")]
Port = Annotated[int, typer.Option(min=0, max=65535, help="0 picks a free one.")]
File = Annotated[str, typer.Argument(metavar="FILE", help="A JSON document, - for standard input.")]


@app.callback(invoke_without_command=True)
def options(
    context: typer.Context,
    data: Data = None,
    version: Annotated[bool, typer.Option("--version", help="Print the version and stop.")] = False,
) -> None:
    """What every command takes."""
    context.obj = data
    if version:
        typer.echo(f"diachrom {__version__}")
        raise typer.Exit


def _folder(context: typer.Context, data: Path | None) -> Path:
    return config.data_folder(data or context.obj)


@app.command()
def serve(
    context: typer.Context,
    port: Port = 8765,
    data: Data = None,
    share: Annotated[bool, typer.Option("--share", help="Share on the network too; needs a passphrase.")] = False,
    https: Annotated[bool, typer.Option("--https", help="By HTTPS, with a certificate of its own.")] = False,
    on: Annotated[str, typer.Option("--on", help="The address of this machine to share on.")] = "",
    verbose: Annotated[bool, typer.Option("--verbose", help="Log every request and task.")] = False,
) -> None:
    """Start the server on loopback; the address is the first line printed."""
    _serve(_folder(context, data), port, (on, https) if share or https or on else None, verbose=verbose)


@app.command()
def passphrase(context: typer.Context, data: Data = None) -> None:
    """Set the passphrase for other devices; asked twice, or read from standard input."""
    from diachrom.store.migrate import migrate
    from diachrom.work.access.auth import Auth

    folder = _folder(context, data)
    migrate(folder)
    asked = sys.stdin.isatty()
    text = typer.prompt("Passphrase", hide_input=True, confirmation_prompt=True) if asked else sys.stdin.readline()
    Auth(folder).set_passphrase(text)
    typer.echo("Saved. Devices paired with the old passphrase are signed out.")


@app.command(name="open")
def open_(
    context: typer.Context,
    port: Annotated[
        int, typer.Option(min=0, max=65535, help="The server's port; the latest server's if left out.")
    ] = 0,
    data: Data = None,
) -> None:
    """Print a link that lets one browser of this machine in, once, where an address is set for others."""
    from diachrom.web.kit.served_at import served_at
    from diachrom.work.access.auth import Auth

    folder = _folder(context, data)
    address = served_at(folder, port)
    typer.echo(f"{address}/pair/{Auth(folder).new_code(here=True)}")
    typer.echo("Open it in this machine's own browser within five minutes; it works once.")


@app.command()
def demo(context: typer.Context, port: Port = 8765, data: Data = None) -> None:
    """Start on a fresh copy of the demo bench, in a folder of its own."""
    from diachrom.demo.bench import fill

    given = data or context.obj
    folder = config.data_folder(given) if given else Path(tempfile.mkdtemp(prefix="diachrom-demo-"))
    fill(folder)
    _serve(folder, port)


def _serve(folder: Path, port: int, shared: tuple[str, bool] | None = None, *, verbose: bool = False) -> None:
    gc.disable()  # what is loaded now stays to the end: nothing to collect, a sixth of the start saved
    from diachrom.store.migrate import migrate
    from diachrom.web.kit.served_at import note
    from diachrom.web.server import address_of, listen, server_for
    from diachrom.work.kit.opened import opened

    problem = ""
    try:
        migrate(folder)
    except DataFolderNotWritable as error:
        with opened(folder):  # what is there can be read all the same
            problem = f"{error} You can look at it, but nothing can be saved."
    listening = listen(port)
    server = server_for(folder, verbose=verbose)
    state: Any = getattr(server.config.app, "state", None)
    try:
        told = [] if shared is None else _share(state, listening.getsockname()[1], *shared)
    except DiachromError:
        listening.close()
        raise
    typer.echo(address_of(listening))
    typer.echo(f"Everything is in {folder}. To come back to it: diachrom serve --data {folder}")
    for line in [*told, *([problem] if problem else [])]:
        typer.echo(line)
    sys.stdout.flush()
    note(folder, address_of(listening))
    gc.freeze()
    gc.enable()
    server.run(sockets=[listening])


def _share(state: Any, port: int, on: str, https: bool) -> list[str]:
    """On the network; what is said of it, with a code to be scanned by a phone. Raises InvalidInput."""
    from diachrom.exchange import qr
    from diachrom.web.access.routes import begin_sharing

    state.sharing.on = on
    address = begin_sharing(state, port, secured=https)
    code = f"{state.names.address(address)}pair/{state.door.new_code()}"
    fingerprint = state.sharing.now.fingerprint
    return [
        f"On the network: {address}",
        *([f"Its certificate's SHA-256 fingerprint: {fingerprint}"] if fingerprint else []),
        f"Scan this to pair a phone, within five minutes: {code}",
        qr.text(code),
    ]


@app.command()
def migrate(context: typer.Context, data: Data = None) -> None:
    """Create the data folder, or bring it to this version."""
    from diachrom.store.migrate import migrate as bring_up
    from diachrom.store.schema import LATEST

    folder = _folder(context, data)
    taken = bring_up(folder)
    typer.echo(f"{folder}: " + (", ".join(taken) if taken else f"already at data version {LATEST}"))


@app.command()
def backup(
    context: typer.Context,
    target: Annotated[Path, typer.Argument(metavar="FILE", help="A file that does not exist yet.")],
    data: Data = None,
) -> None:
    """Copy everything into one file, also while the server runs."""
    from diachrom.store.migrate import copy_to

    copy_to(_folder(context, data), target)
    typer.echo(f"Everything is in {target}. To use it: put it into an empty folder as diachrom.sqlite3.")


@app.command()
def predict(context: typer.Context, file: File, data: Data = None) -> None:
    """Predict the colour of a stack of coats and print it as JSON."""
    from diachrom.work.api.command import predict_text

    typer.echo(predict_text(_read(file), _folder(context, data)))


@app.command()
def match(context: typer.Context, file: File, data: Data = None) -> None:
    """Find the mixes of whole drops that come nearest to a colour and print them as JSON."""
    from diachrom.work.api.command import match_text

    typer.echo(match_text(_read(file), _folder(context, data)))


@app.command()
def profile(file: File) -> None:
    """Derive a paint's profile from a drawdown card and print it as JSON."""
    from diachrom.work.api.command import profile_text

    typer.echo(profile_text(_read(file)))


@app.command()
def guess(file: File) -> None:
    """Guess a paint's profile from its kind and one colour and print it as JSON."""
    from diachrom.work.api.command import guess_text

    typer.echo(guess_text(_read(file)))


@app.command(name="read-list")
def read_list(file: File) -> None:
    """Read a list of bottles, one a line, and print their kinds, sizes and colours as JSON."""
    from diachrom.work.api.command import read_list_text

    typer.echo(read_list_text(_read(file)))


@app.command()
def batch(context: typer.Context, file: File, data: Data = None) -> None:
    """Count so much of a mix in whole drops, its ratio kept, and print them as JSON."""
    from diachrom.work.api.command import batch_text

    typer.echo(batch_text(_read(file), _folder(context, data)))


@app.command()
def adjust(context: typer.Context, file: File, data: Data = None) -> None:
    """Find the drops that help a mix that is too yellow, too light ..., and print them as JSON."""
    from diachrom.work.api.command import adjust_text

    typer.echo(adjust_text(_read(file), _folder(context, data)))


@app.command()
def export(
    context: typer.Context,
    target: Annotated[
        Path,
        typer.Argument(metavar="FILE", help="Its suffix says the form: see docs/formats.md; - for standard output."),
    ],
    data: Data = None,
    form: Annotated[str, typer.Option("--form", help="Of standard output, as its suffix would be.")] = "json",
) -> None:
    """Write the shelf to a new file: .csv .xlsx .json .gpl .ase .cgats .cxf; the whole bench: .zip."""
    from diachrom.work.api.command import export_to, exported

    if str(target) == "-":
        sys.stdout.buffer.write(exported(_folder(context, data), form))
        return
    export_to(target, _folder(context, data))
    typer.echo(f"The {'whole bench' if target.suffix == '.zip' else 'shelf'} is in {target}.")


@app.command(name="import")
def import_(
    context: typer.Context,
    file: File,
    data: Data = None,
    dry_run: Annotated[bool, typer.Option("--dry-run", help="Show what each row would become; write nothing.")] = False,
    kind: Annotated[str, typer.Option(help="The kind that a palette's colours get.")] = "transparent",
    values: Annotated[str, typer.Option(help="What the values of spectra are: percent or share (0 to 1).")] = "",
    column: Annotated[list[str] | None, typer.Option(help="What a column of a table is, as left=4.")] = None,
    skip: Annotated[list[int] | None, typer.Option(help="A row of a table to leave out.")] = None,
) -> None:
    """Import a file onto the shelf, all of it or nothing, saying what each row became; a whole bench, .zip, into an
    empty folder."""
    from diachrom.work.api.command import bring_bench, import_from
    from diachrom.work.files.importing import Asked
    from diachrom.work.files.mending import Mended

    if file.lower().endswith(".zip"):
        if dry_run:
            raise InvalidInput("A whole bench has no dry run: bring it into an empty folder.", field="--dry-run")
        typer.echo(bring_bench(file, _folder(context, data)))
        return
    columns = {}
    for told in column or ():
        word, sign, place = told.partition("=")
        if not (sign and word.strip() and place.strip().isdecimal() and len(place) < 6):
            raise InvalidInput(f"--column {told[:40]}: write a field and its column, as left=4.", field="column")
        columns[word.strip()] = int(place)
    content, folder = _read(file, LARGEST_FILE), _folder(context, data)
    asked = Asked(kind, values, Mended(left_out=frozenset(skip or ())), columns)
    for line in import_from(file, content, folder, asked, write=not dry_run):
        typer.echo(line)


@app.command()
def check(
    context: typer.Context,
    data: Data = None,
    mend: Annotated[bool, typer.Option("--mend", help="Repair what can be repaired; a copy is made first.")] = False,
) -> None:
    """Check a data folder; says what is wrong, exit status 2 when something is."""
    from diachrom.work.files.checking import check_folder, mend_folder

    folder = _folder(context, data)
    if mend:
        before, done = mend_folder(folder)
        for line in [*done, f"As it was before, it is in {before}."] if done else ["Nothing could be repaired."]:
            typer.echo(line)
    wrong = check_folder(folder)
    for line in wrong:
        typer.echo(line)
    if wrong:
        raise InvalidInput(f"{folder} has {pluralize(len(wrong), 'fault')}.", field="data")
    typer.echo(f"{folder}: nothing is wrong.")


def _read(file: str, largest: int = LARGEST_DOCUMENT) -> bytes:
    """A file's bytes. Raises InvalidInput when there are none, or too many, before they are read."""
    try:
        if file != "-" and os.stat(file).st_size > largest:
            raise InvalidInput(f"{file} is larger than {largest // 1_000_000} MB.", field="FILE")
        if file == "-":
            content = sys.stdin.buffer.read(largest + 1)
        else:
            with open(file, "rb") as opened:
                content = opened.read(largest + 1)
    except OSError as error:
        raise InvalidInput(f"{file} cannot be read: {error.strerror}.", field="FILE") from error
    if len(content) > largest:
        raise InvalidInput(f"{file} is larger than {largest // 1_000_000} MB.", field="FILE")
    return content


def main() -> int:
    """Run the command line; returns the exit status."""
    try:
        app(standalone_mode=False)
    except DiachromError as error:
        named = f"{error.field}: " if error.field and not str(error).startswith(error.field) else ""
        # A sentence with the command as it can be typed here.
        sentence = f"{named}{error}"
        if shutil.which("diachrom") is not None:
            typed = sentence
        else:
            own = sys.argv[0] if os.path.basename(sys.argv[0]) == "diachrom" else f"{sys.executable} -m diachrom"
            typed = sentence.replace("'diachrom ", f"'{own} ")
        print(typed, file=sys.stderr)
        return 2
    except (typer.Abort, KeyboardInterrupt):
        return 130
    except BrokenPipeError:  # whoever read the answer has had enough
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 2
    except Exception as error:
        # Typer's own errors of usage know how to show themselves.
        if hasattr(error, "exit_code") and hasattr(error, "format_message"):
            print(error.format_message(), file=sys.stderr)
            return int(error.exit_code)
        if os.environ.get("DIACHROM_TRACE"):
            raise
        said = f"{type(error).__name__}: {error}".splitlines()[0][:300]
        print(f"Something went wrong in Diachrom itself ({said}). DIACHROM_TRACE=1 shows where.", file=sys.stderr)
        return 2
    return 0
