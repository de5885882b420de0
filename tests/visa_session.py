#!/usr/bin/python3
"""visa_session.py CLENDO-SIM: talks to the simulated instruments as any program does, through VISA. Exits 0 when all was as SCPI has it."""
import json
import socket
import subprocess
import sys

import pyvisa

simulation = subprocess.Popen([sys.argv[1], "demo", "--speed", "20"], stdout=subprocess.PIPE, text=True)
try:
    ready = json.loads(simulation.stdout.readline())
    assert ready["ready"] is True
    ports = {one["name"]: one["port"] for one in ready["instruments"]}
    manager = pyvisa.ResourceManager("@py")

    def opened(name):
        return manager.open_resource(f"TCPIP::127.0.0.1::{ports[name]}::SOCKET", read_termination="\n", write_termination="\n", timeout=10000)

    hands = socket.create_connection(("127.0.0.1", ready["control"]["port"])).makefile("rw")

    def do(**what):
        hands.write(json.dumps(what) + "\n")
        hands.flush()
        answer = json.loads(hands.readline())
        assert answer["ok"], answer
        return answer

    source, meter, scope, otdr = (opened(name) for name in ("source 1", "meter 1", "scope 1", "otdr 1"))
    assert meter.query("*IDN?").startswith("CLENDO,SIMULATED meter,PM-2207")
    do(do="connect", **{"from": "meter 1", "to": "RC-1/B"})
    references = {}
    for nm in (1310, 1550):
        source.write(f"SOUR:WAV {nm}")
        meter.write(f"SENSE:POWER:WAVELENGTH {nm} NM")
        assert source.query("*OPC?") == "1"
        references[nm] = meter.query_ascii_values("READ:POW?")[0]
        assert -8 < references[nm] < -6, references
    do(do="part", face="RC-1/B")
    assert float(meter.query("READ:POW?")) == -9.9e37
    do(do="mate", a="RC-1/B", b="TH-R2/5/port")
    do(do="mate", a="RC-2/A", b="BH box/5/port")
    do(do="connect", **{"from": "meter 1", "to": "RC-2/B"})
    loss = references[1550] - meter.query_ascii_values("FETC:POW?")[0]
    assert 0.4 < loss < 2, loss
    source.write("SOUR:WAV 850")
    assert source.query("SYST:ERR?") == '-222,"Data out of range"'
    assert source.query("SYST:ERR?") == '0,"No error"'
    source.write("NO:SUCH:THING 1")
    assert int(source.query("*ESR?")) & 32
    assert source.query(":SYSTem:ERRor:NEXT?").startswith("-113")
    # two clients, one after the other and both at once
    second = opened("meter 1")
    assert second.query("SENS:POW:WAV?") == meter.query("SENS:POW:WAV?") == "1550"
    second.close()

    do(do="connect", **{"from": "scope 1", "to": "VP-04/7/A/port"})
    picture = bytes(scope.query_binary_values("DISP:DATA?", datatype="B", container=bytes))
    assert picture.startswith(b"\x89PNG"), picture[:8]
    do(do="part", face="RC-1/B")
    do(do="connect", **{"from": "otdr 1", "to": "launch 1/A"})
    do(do="mate", a="launch 1/B", b="TH-R2/5/port")
    otdr.write("SENS:WAV 1550;PULS 30;RANG 4000;AVER 10;:INIT")
    assert otdr.query("*OPC?") == "1"
    trace = bytes(otdr.query_binary_values("TRAC:DATA:SOR?", datatype="B", container=bytes))
    assert b"GenParams" in trace[:400] and len(trace) > 10000
    state = do(do="state")
    assert any(face["face"] == "RC-2/A" and face["mated_with"] == "VP-04/5/B/port" for face in state["faces"])
    do(do="quit")
    assert simulation.wait(10) == 0
finally:
    simulation.kill()
print("as SCPI has it")
