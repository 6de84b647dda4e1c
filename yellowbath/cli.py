"""The command line: serve, demo, backup, restore, passcode, plan, field,
instrument, openapi."""

from __future__ import annotations

import argparse
import json
import socket
import sys
import threading
from collections.abc import Callable
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any

from yellowbath.settings import Settings

if TYPE_CHECKING:
    from yellowbath.api.session import Passcode, Sessions
    from yellowbath.workflows.shop.shop import Shop


def main(argv: list[str] | None = None) -> int:
    """Run one command; returns the exit code."""
    from yellowbath.workflows.shop.faults import said_plainly

    args = _parser().parse_args(argv)
    return said_plainly(lambda: int(args.run(args)))


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="yellowbath", description=__doc__)
    commands = parser.add_subparsers(required=True, metavar="command")
    serve = commands.add_parser("serve", help="serve a shop; starts an empty one in a new folder")
    serve.add_argument("--data", type=Path, default=None, help="folder of the shop")
    _address(serve)
    serve.set_defaults(run=_serve)
    demo = commands.add_parser("demo", help="serve the demo shop, made on the first start")
    demo.add_argument("--data", type=Path, default=Path("demo-data"), help="folder of the demo")
    _address(demo)
    demo.set_defaults(run=_demo)
    backup = commands.add_parser("backup", help="make a copy of a shop, also while it is served")
    backup.add_argument("--data", type=Path, default=None, help="folder of the shop")
    backup.add_argument("--out", type=Path, default=None, help="file (default: its backups folder)")
    backup.set_defaults(run=_backup, host=None, port=None, name=None)
    restore = commands.add_parser("restore", help="put a copy in the place of a shop")
    restore.add_argument("copy", type=Path)
    restore.add_argument("--data", type=Path, default=None, help="folder of the shop")
    restore.set_defaults(run=_restore, host=None, port=None, name=None)
    passcode = commands.add_parser("passcode", help="set the passcode of a shop that is shared")
    passcode.add_argument("--data", type=Path, default=None, help="folder of the shop")
    passcode.set_defaults(run=_set_passcode, host=None, port=None, name=None)
    field = commands.add_parser("field", help="solve a field case, or a file of them")
    field.add_argument("file", type=Path)
    field.add_argument("--preview", action="store_true", help="coarser and faster")
    field.add_argument("--model", choices=("linear", "kinetic"), default="linear")
    field.add_argument("--json", action="store_true", help="results in the form of the case file")
    field.set_defaults(run=_field)
    plan = commands.add_parser("plan", help="answer a plan file, or make a sheet of it")
    plan.add_argument("file", type=Path)
    plan.add_argument("--json", action="store_true", help="figures and findings as JSON")
    plan.add_argument("--sheet", default="", help="card.pdf, band.pdf, layout.svg, layout.dxf, …")
    plan.add_argument("--out", type=Path, default=None, help="where the sheet goes")
    plan.add_argument("--paper", choices=("a4", "letter"), default="a4")
    plan.set_defaults(run=_plan)
    _instrument_parser(commands)
    openapi = commands.add_parser("openapi", help="print the API's description")
    openapi.set_defaults(run=_openapi)
    return parser


def _instrument_parser(commands: Any) -> None:
    help_text = "serve a stand-in supply: SCPI on a socket, a simulated bath at its posts"
    parser = commands.add_parser("instrument", help=help_text)
    parser.add_argument("--plan", type=Path, required=True, help="the plan whose bath it feeds")
    parser.add_argument("--host", default="127.0.0.1", help="address (default: loopback)")
    parser.add_argument("--port", type=_port, default=5025)
    parser.add_argument("--speed", type=float, default=1.0, help="times real time (default: 1)")
    parser.add_argument("--fault", action="append", default=None, help="what goes wrong, by name")
    parser.add_argument(
        "--after", type=float, default=5.0, help="minutes of the bath until it does (default: 5)"
    )
    parser.add_argument("--seed", type=int, default=1, help="another bath of the same plan")
    parser.add_argument("--off", action="store_true", help="start with the output off")
    parser.set_defaults(run=_instrument)


def _port(text: str) -> int:
    """A port; ArgumentTypeError, which argparse tells in one sentence, for what is none."""
    if text.strip().isdecimal() and 0 < int(text) < 65536:
        return int(text)
    raise argparse.ArgumentTypeError(f"{text[:20]} is no port: 1 to 65535, usually 8650")


def _address(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--host", default=None, help="address to serve on (default: loopback)")
    parser.add_argument("--port", type=_port, default=None, help="port (default: 8650)")
    parser.add_argument(
        "--name", action="append", default=None, help="host name by which it may be asked for"
    )
    parser.add_argument(
        "--cache-mb", type=float, default=None, help="what the solver may keep (default: 128 MB)"
    )


def _settings(args: argparse.Namespace, default: Path) -> Settings:
    settings = Settings.from_environment(default)
    return replace(
        settings,
        data=args.data or settings.data,
        host=args.host or settings.host,
        port=args.port or settings.port,
        names=tuple(args.name or settings.names),
        cache_mb=getattr(args, "cache_mb", None) or settings.cache_mb,
    )


def _serve(args: argparse.Namespace) -> int:
    return _run(_settings(args, Path("shop-data")), seeded=False)


def _demo(args: argparse.Namespace) -> int:
    return _run(_settings(args, Path("demo-data")), seeded=True)


def _run(settings: Settings, seeded: bool) -> int:
    from yellowbath.store.care import claimed, examine

    examine(settings.database)
    door = _door(settings)
    if door is None:
        return 2
    with claimed(settings.database), door:
        return _served(settings, seeded, door)


def _door(settings: Settings) -> socket.socket | None:
    """The port, taken before anything is said; None, told, where something else has it."""
    family = socket.AF_INET6 if ":" in settings.host else socket.AF_INET
    door = socket.socket(family, socket.SOCK_STREAM)
    door.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        door.bind((settings.host, settings.port))
    except OSError as error:
        door.close()
        print(
            f"Port {settings.port} at {settings.host} cannot be had: {error.strerror}. "
            f"Perhaps Yellow Bath runs already; else take another with --port {settings.port + 1}.",
            file=sys.stderr,
        )
        return None
    return door


def _served(settings: Settings, seeded: bool, door: socket.socket) -> int:
    import uvicorn

    from yellowbath.api.app import make_app
    from yellowbath.store.engine import open_engine
    from yellowbath.workflows.shop import memory
    from yellowbath.workflows.shop.copies import keep_copies
    from yellowbath.workflows.shop.shop import Shop
    from yellowbath.workflows.shop.solver import Solver

    memory.settle()
    fresh = not settings.database.exists()
    shop = Shop(open_engine(settings.database), solver=Solver(settings.cache_mb))
    if seeded and fresh:
        from yellowbath.workflows.demo import seed

        seed(shop.engine)
    sessions = _passcode(settings) if settings.beyond else None
    if settings.beyond and sessions is None:
        return 2
    print(f"Yellow Bath: http://{settings.host}:{settings.port}/", flush=True)
    app = make_app(
        shop, address=(settings.host, settings.port), names=settings.names, sessions=sessions
    )
    warming = threading.Timer(2.0, _warm_up, [shop, app.state.meshes.ready])
    warming.daemon = True
    warming.start()
    keep_copies(settings.database)
    if seeded:
        from yellowbath.workflows.line.demo_line import hang

        hang(shop)
    app.state.links.start()
    config = uvicorn.Config(
        app, host=settings.host, port=settings.port, log_level="warning", server_header=False,
        timeout_graceful_shutdown=2,  # pages that listen would keep it from ending
    )  # fmt: skip
    uvicorn.Server(config).run(sockets=[door])
    return 0


def _backup(args: argparse.Namespace) -> int:
    from yellowbath.store.care import back_up

    made = back_up(_settings(args, Path("shop-data")).database, datetime.now(UTC), args.out)
    print(f"Copied to {made}")
    return 0


def _restore(args: argparse.Namespace) -> int:
    from yellowbath.store.care import restore

    settings = _settings(args, Path("shop-data"))
    aside = restore(args.copy, settings.database, datetime.now(UTC))
    print(f"The shop in {settings.data} is now the copy {args.copy}.")
    if aside:
        print(f"What stood there is kept as {aside}.")
    return 0


def _passcode(settings: Settings) -> Sessions | None:
    """What asks for the passcode of a shop that others can reach; None, said, without one."""
    import time

    from yellowbath.api.session import Sessions, keep, kept

    found = kept(settings.data)
    if found is None and sys.stdin.isatty():
        print("Others on this network will be able to open this shop: give it a passcode.")
        found = _typed_passcode(settings.data, keep)
    if found is None:
        print(
            "A shop that others can reach needs a passcode. Set it once with: "
            f"yellowbath passcode --data {settings.data}",
            file=sys.stderr,
        )
        return None
    return Sessions(found, time.monotonic)


def _typed_passcode(folder: Path, keep: Callable[[Path, str], Passcode]) -> Passcode | None:
    from getpass import getpass

    typed = getpass("Passcode: ") if sys.stdin.isatty() else sys.stdin.readline().rstrip("\n")
    try:
        return keep(folder, typed)
    except ValueError as error:
        print(error, file=sys.stderr)
        return None


def _set_passcode(args: argparse.Namespace) -> int:
    from yellowbath.api.session import keep

    settings = _settings(args, Path("shop-data"))
    if _typed_passcode(settings.data, keep) is None:
        return 2
    print("The passcode is set. Devices that knew the old one will be asked again.")
    return 0


def _field(args: argparse.Namespace) -> int:
    from yellowbath.workflows.plans.cases import field_report

    code, text = field_report(args.file, args.preview, args.model, args.json)
    print(text, file=sys.stderr if code else sys.stdout)
    return code


def _plan(args: argparse.Namespace) -> int:
    from yellowbath.workflows.plans.plan_file import plan_report, write_sheet

    if args.sheet:
        code, text = write_sheet(args.file, args.sheet, args.paper, args.out)
    else:
        code, text = plan_report(args.file, args.json)
    print(text, file=sys.stderr if code else sys.stdout)
    return code


_MESHES_S = 20.0  # nobody brings a mesh file sooner, and its reader takes a second and a half


def _warm_up(shop: Shop, meshes_ready: Callable[[], None]) -> None:
    """Load the compiled kernels beside the served page, so that the first map does not wait, make a
    reader of mesh files ready, and work out anew what another version kept for the lists."""
    import gc

    from yellowbath.workflows.plans.field import warm_up
    from yellowbath.workflows.plans.plans import renew
    from yellowbath.workflows.plans.unread import examine
    from yellowbath.workflows.runs.rack import renew_rack
    from yellowbath.workflows.shop.memory import give_back

    warm_up(shop.solver)
    reader = threading.Timer(_MESHES_S, meshes_ready)
    reader.daemon = True
    reader.start()
    renew_rack(shop)
    renew(shop)
    examine(shop)
    gc.collect()
    give_back()
    gc.freeze()  # what the libraries made stays: looking through it again costs a drag its pace


def _instrument(args: argparse.Namespace) -> int:
    import time

    from yellowbath.workflows.line.stand_in import stand_in
    from yellowbath.workflows.plans.plan_file import read_file

    try:
        server = stand_in(
            read_file(args.plan), time.monotonic, host=args.host, port=args.port, speed=args.speed,
            faults=args.fault, after_s=args.after * 60, seed=args.seed, on=not args.off,
        )  # fmt: skip
    except OSError as error:
        print(f"Port {args.port} cannot be had: {error.strerror}. Take another with --port.",
              file=sys.stderr)  # fmt: skip
        return 2
    print(f"A stand-in supply answers at {args.host}:{server.port}, {args.speed:g} times as fast.",
          flush=True)  # fmt: skip
    server.start()
    try:
        threading.Event().wait()
    except KeyboardInterrupt:
        server.stop()
    return 0


def _openapi(_args: argparse.Namespace) -> int:
    from yellowbath.api.app import make_app

    print(json.dumps(make_app(None).openapi(), indent=2))
    return 0


if __name__ == "__main__":
    sys.exit(main())
