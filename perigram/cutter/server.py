"""The machine on the wire: HP-GL comes in over TCP, questions and buttons over HTTP; loopback only."""

from __future__ import annotations

import json
import re
import socketserver
import threading
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from urllib.parse import parse_qs, urlsplit

from perigram.cutter.machine import Machine

HOST = "127.0.0.1"
#: A job says in a comment what it is, how large, and from which byte on it is sent.
_HEADER = re.compile(rb'CO"job ([\w-]{1,40}) (\d{1,9}) (\d{1,9}) ([^"]{0,200})";')
_MOST_BYTES = 50_000_000


def serve(machine: Machine, port: int) -> tuple[socketserver.TCPServer, ThreadingHTTPServer]:
    """Start listening: HP-GL on a port, questions on the next; both run until they are shut down."""

    class Wire(socketserver.StreamRequestHandler):
        def handle(self) -> None:
            head = b""
            while b";" not in head and len(head) < 400:
                part = self.request.recv(1)
                if not part:
                    return
                head += part
            found = _HEADER.fullmatch(head)
            if not found or int(found[2]) > _MOST_BYTES:
                return
            job, name = found[1].decode(), found[4].decode("utf-8", "replace")
            size, at = int(found[2]), int(found[3])
            while data := self.request.recv(4096):
                machine.take(job, name, size, at, data)
                at += len(data)

    class Asked(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            path = urlsplit(self.path).path
            if path == "/status":
                return self._answer(machine.status())
            job = machine.jobs.get(path.removeprefix("/jobs/"))
            if job is None:
                return self._answer({"detail": "No such job."}, 404)
            return self._answer({**job.told(), "cut": job.cut_so_far()})

        def do_POST(self) -> None:
            parts = urlsplit(self.path)
            said = parse_qs(parts.query)
            if parts.path in ("/pause", "/go-on"):
                machine.pause(parts.path == "/pause")
            elif parts.path == "/load":
                machine.load(float(said.get("length", ["inf"])[0]))
            elif parts.path == "/blade":
                machine.fit(float(said.get("offset", ["0"])[0]))
            elif parts.path == "/stick":
                if not machine.take_from_stick(said.get("job", [""])[0], said.get("file", [""])[0]):
                    return self._answer({"detail": "No such file on the stick."}, 404)
            else:
                return self._answer({"detail": "No such button."}, 404)
            return self._answer(machine.status())

        def _answer(self, body: object, status: int = 200) -> None:
            content = json.dumps(body).encode()
            self.send_response(status)
            self.send_header("Content-Type", "application/json")
            self.send_header("Content-Length", str(len(content)))
            self.end_headers()
            self.wfile.write(content)

        def log_message(self, format: str, *args: object) -> None:
            """Nothing: the machine has no paper to write on."""

    class Listener(socketserver.ThreadingTCPServer):
        allow_reuse_address = daemon_threads = True

    wire = Listener((HOST, port), Wire)
    try:
        asked = ThreadingHTTPServer((HOST, port + 1), Asked)
    except OSError:
        wire.server_close()
        raise
    for run in (wire.serve_forever, asked.serve_forever, machine.run):
        threading.Thread(target=run, daemon=True).start()
    return wire, asked
