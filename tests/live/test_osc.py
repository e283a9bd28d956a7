"""Open Sound Control in and out: over a real port of this machine, with the package's own client at the other end."""

import socket

import pytest
from pythonosc.osc_packet import OscPacket
from pythonosc.udp_client import SimpleUDPClient

from chalcedon.formula import Formula
from chalcedon.live import Live
from chalcedon.live.osc import LOOPBACK, OscDoor, OscTeller
from chalcedon.live.recording import read_recording, recording_of, replay, write_recording
from chalcedon.problems import ChalcedonError
from chalcedon.scene import Circle, Scene


def quay():
    scene = Scene([Circle(id="lamp", radius=10)])
    scene.inputs.add("tide", 0.0, low=0, high=1)
    scene.inputs.add("lit", False)
    scene.inputs.add("buoy", (0, 0))
    scene.inputs.add("word", "calm")
    scene.responses = [
        {"on": "event", "name": "wave", "do": [{"set": "lamp.radius", "to": Formula("event.height * 2")}]},
        {"on": "event", "name": "knock", "do": [{"emit": "heard", "values": {"how": Formula("event.value")}}]},
    ]
    return scene


@pytest.fixture
def door():
    complaints = []
    door = OscDoor(0, complain=complaints.append)
    door.complaints = complaints
    door.client = SimpleUDPClient(LOOPBACK, door.port)
    yield door
    door.close()


def test_messages_set_inputs_and_have_events_happen_and_are_recorded(door, tmp_path):
    live = Live(quay())
    for address, values in (
        ("/input/tide", 0.25),
        ("/input/lit", 1),
        ("/input/buoy", (30, 40.5)),
        ("/input/word", "rough"),
        ("/event/wave", ("height", 8, "side", "left")),
    ):
        door.client.send_message(address, values)
    door.pour(live)
    live.advance()
    assert dict(live.inputs) == {"tide": 0.25, "lit": True, "buoy": (30, 40.5), "word": "rough"}
    assert live.value("lamp", "radius") == 16 and door.complaints == []
    write_recording(recording_of(live), tmp_path / "run.jsonl")
    again = replay(quay(), read_recording(tmp_path / "run.jsonl"))
    assert [e.said() for e in again.log] == [e.said() for e in live.log] and again.value("lamp", "radius") == 16


def test_what_does_not_fit_is_said_and_the_rest_still_comes_in(door):
    live = Live(quay())
    raw = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
    raw.sendto(b"no message", (LOOPBACK, door.port))
    raw.sendto(b"", (LOOPBACK, door.port))
    raw.close()
    for address, values in (
        ("/input/tid", 0.5),
        ("/input/tide", "high"),
        ("/input/tide", 7.0),
        ("/input/tide", float("nan")),
        ("/input/buoy", 3),
        ("/input/lit", []),
        ("/tide", 0.5),
        ("/event/wave", (1, 2)),
        ("/event/two words", 1),
        ("/event/wave", ("height", b"\x00\x01")),
        ("/input/tide", 0.75),
    ):
        door.client.send_message(address, values)
    door.pour(live)
    live.advance()
    assert live.inputs["tide"] == 0.75 and live.faults == [] and len(door.complaints) == 12
    assert "Did you mean tide?" in door.complaints[2] and "/input/tide" in door.complaints[3]


def test_what_a_scene_emits_is_sent_and_what_came_in_is_not_sent_back(door):
    heard = socket.socket(socket.AF_INET, socket.SOCK_DGRAM)
    heard.bind((LOOPBACK, 0))
    heard.settimeout(5)
    live = Live(quay())
    stop = OscTeller(heard.getsockname()[1]).follow(live)
    door.client.send_message("/event/knock", 3)
    door.pour(live)
    live.advance()
    message = OscPacket(heard.recv(4096)).messages[0].message
    assert (message.address, list(message.params)) == ("/event/heard", ["how", 3])
    stop()
    live.emit("heard", {"value": 1})
    live.advance()
    heard.setblocking(False)
    with pytest.raises(BlockingIOError):
        heard.recv(4096)
    heard.close()


def test_only_this_machine_is_heard_unless_told_and_a_taken_port_is_said(door):
    assert door._socket.getsockname()[0] == "127.0.0.1"
    with pytest.raises(ChalcedonError) as taken:
        OscDoor(door.port)
    assert str(taken.value) == f"127.0.0.1:{door.port}: the port can't be listened at: Address already in use."
    with pytest.raises(ChalcedonError, match=r"can't be listened at: .*0-65535"):
        OscDoor(70_000)
    with pytest.raises(ChalcedonError, match="can't be listened at"):
        OscDoor(9000, "no.such.machine.invalid")
    with pytest.raises(ChalcedonError, match="can't be found"):
        OscTeller(9001, "no.such.machine.invalid")
