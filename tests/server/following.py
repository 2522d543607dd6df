"""Goes through docs/on-a-server.md step by step on this machine, and lets nothing of it stay: what
the steps write lies over the machine's own folders as long as this runs, and from the third step
on they have a network of their own. Run by root, by a process of its own:

    unshare --mount --pid --fork --kill-child --mount-proc python tests/server/following.py FOLDER

FOLDER: what the steps call "this folder"; of it goes what a fresh clone has. Without systemd, what
stands in a unit is done as systemd would do it. Prints each command; fails with the first that
fails.
"""

from __future__ import annotations

import configparser
import contextlib
import ctypes
import fcntl
import http.client
import os
import re
import secrets
import shutil
import socket
import ssl
import struct
import subprocess
import sys
import time
from pathlib import Path
from urllib.parse import urlencode

OWN = Path("/opt/inner-hop")
HOST = "hops.example.org"
PASSWORD = "paddles-and-pawls-9"
BEFORE = os.environ | {
    "PATH": "/usr/sbin:/usr/bin:/sbin:/bin", "DEBIAN_FRONTEND": "noninteractive",
}  # fmt: skip
FIRST = re.compile(r"(apt-get|useradd|python3|su|cp|systemctl|set) ")
_MADE = shutil.ignore_patterns(".venv", ".run", ".git", "node_modules", "__pycache__", "*.gz")
_NEW_NETWORK = 0x40000000  # https://man7.org/linux/man-pages/man2/unshare.2.html
_SET_FLAGS, _UP = 0x8914, 1  # https://man7.org/linux/man-pages/man7/netdevice.7.html


def commands() -> dict[int, list[str]]:
    """What the steps have one type, by their numbers."""
    text = (OWN / "docs" / "on-a-server.md").read_text(encoding="utf-8")
    steps = re.findall(r"^(\d)\. (.+?)(?=^\d\. |^$)", text, re.M | re.S)
    spans = {int(number): re.findall(r"`([^`]+)`", said) for number, said in steps}
    return {number: [" ".join(one.split()) for one in some if FIRST.match(one)]
            for number, some in spans.items()}  # fmt: skip


def cover() -> None:
    """From here on, nothing that is written stays."""
    subprocess.run(["mount", "-t", "tmpfs", "none", "/mnt"], check=True)
    for folder in ("/etc", "/usr", "/var", "/run", "/opt"):
        over, work = Path(f"/mnt/over{folder}"), Path(f"/mnt/work{folder}")
        over.mkdir(parents=True)
        work.mkdir(parents=True)
        how = f"lowerdir={folder},upperdir={over},workdir={work}"
        subprocess.run(["mount", "-t", "overlay", "overlay", "-o", how, folder], check=True)


def leave_the_network() -> None:
    """From here on, loopback is there, of our own, and nothing else."""
    if ctypes.CDLL(None, use_errno=True).unshare(_NEW_NETWORK):
        raise OSError(ctypes.get_errno(), "unshare")
    with socket.socket() as any_:
        fcntl.ioctl(any_, _SET_FLAGS, struct.pack("16sh14x", b"lo", _UP))


def type_(command: str, *, user: str = "", said: str = "") -> None:
    """Run one of them in the folder. said: what is typed when it asks."""
    print("$", command, flush=True)
    asked = (
        ["runuser", "-u", user, "--", "bash", "-c", command] if user else ["bash", "-c", command]
    )
    subprocess.run(asked, cwd=OWN if OWN.exists() else "/", env=BEFORE, input=said.encode(),
                   check=True, timeout=600, start_new_session=True)  # fmt: skip


def start(unit: str) -> None:
    """What systemd does with one of our units."""
    read = configparser.RawConfigParser(strict=False)
    read.optionxform = str  # type: ignore[assignment,method-assign]
    read.read(f"/etc/systemd/system/{unit}.service", encoding="utf-8")
    service = read["Service"]
    lines = Path(service["EnvironmentFile"]).read_text(encoding="utf-8").splitlines()
    env = dict(line.split("=", 1) for line in lines if line and not line.startswith("#"))
    env |= {"PATH": "/usr/local/sbin:/usr/local/bin:/usr/sbin:/usr/bin:/sbin:/bin"}
    command = ["runuser", "-u", service["User"], "--", *service["ExecStart"].split()]
    print("#", unit, "as", service["User"], flush=True)
    if service["Type"] == "oneshot":
        subprocess.run(command, cwd=service["WorkingDirectory"], env=env, check=True, timeout=120)
    else:
        subprocess.Popen(command, cwd=service["WorkingDirectory"], env=env)


def start_database() -> None:
    """What Debian's package has systemd do."""
    version = sorted(Path("/usr/lib/postgresql").iterdir())[-1].name
    if not Path(f"/etc/postgresql/{version}/main").is_dir():
        type_(f"pg_createcluster {version} main")
    type_(f"pg_ctlcluster {version} main start")


def fill_in() -> None:
    """The settings, as whoever reads them would."""
    file = Path("/etc/inner-hop.env")
    text = file.read_text(encoding="utf-8").replace("PASSWORD", PASSWORD)
    text = text.replace("SECRET_KEY=\n", f"SECRET_KEY={secrets.token_urlsafe(50)}\n")
    file.write_text(text, encoding="utf-8")


def certify() -> None:
    """A certificate that nobody but this believes, where the file for nginx looks for it."""
    subprocess.run(["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "1",
                    "-subj", f"/CN={HOST}", "-keyout", "/etc/ssl/inner-hop.key",
                    "-out", "/etc/ssl/inner-hop.pem"], check=True, capture_output=True)  # fmt: skip


def ask(method: str, path: str, body: str = "", cookie: str = "") -> http.client.HTTPResponse:
    """Something of what stands there now, as a browser asks."""
    trust = ssl._create_unverified_context()
    there = http.client.HTTPSConnection("127.0.0.1", 443, timeout=30, context=trust)
    headers = {"Host": HOST, "Cookie": cookie, "Referer": f"https://{HOST}/sign-in/"}
    if body:
        headers["Content-Type"] = "application/x-www-form-urlencoded"
    there.request(method, path, body=body, headers=headers)
    return there.getresponse()


def sign_in() -> None:
    """The first account comes in."""
    for _ in range(300):
        with contextlib.suppress(OSError):
            if ask("GET", "/-/ready/").status == 200:
                break
        time.sleep(0.2)
    form = ask("GET", "/sign-in/")
    cookie = (form.headers["Set-Cookie"] or "").partition(";")[0]
    (token,) = set(re.findall(r'name="csrfmiddlewaretoken" value="([^"]+)"', form.read().decode()))
    typed = {"csrfmiddlewaretoken": token, "username": "jo", "password": PASSWORD}
    answer = ask("POST", "/sign-in/", urlencode(typed), cookie)
    assert answer.status == 302, answer.status
    print("signed in", flush=True)


def main(folder: Path) -> None:
    """All steps, in their order."""
    cover()
    shutil.copytree(folder, OWN, symlinks=True, ignore=_MADE)
    steps = commands()
    assert {number: len(some) for number, some in steps.items()} == {
        1: 1, 2: 2, 3: 2, 4: 1, 5: 1, 6: 2, 7: 1,
    }, steps  # fmt: skip
    subprocess.run(["apt-get", "update", "-qq"], env=BEFORE, check=False, timeout=300)
    type_(steps[1][0].replace("install", "install -y -qq"))
    type_(steps[2][0])
    subprocess.run(["chown", "-R", "inner-hop", OWN], check=True)
    type_(steps[2][1], user="inner-hop")
    leave_the_network()
    start_database()
    for command in steps[3]:
        type_(command, said=f"{PASSWORD}\n{PASSWORD}\n")
    type_(steps[4][0])
    fill_in()
    copied, _, enabled = steps[5][0].partition(" && ")
    type_(copied)
    for unit in enabled.removeprefix("systemctl enable --now ").split():
        start(unit)
    certify()
    type_(steps[6][0])
    assert steps[6][1] == "systemctl reload nginx"
    type_("nginx")
    type_(steps[7][0].replace("NAME", "jo"), said=f"{PASSWORD}\n{PASSWORD}\n")
    sign_in()


if __name__ == "__main__":
    main(Path(sys.argv[1]))
