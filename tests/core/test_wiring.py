"""Wiring: the cheapest chain that works, every fault with its figures, ports and power shared out."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from hypothesis import given

from tests.promise import promise
from tests.setups import demo, demos, put, varied_setups
from uphill_lamp.core.appraisal.appraise import appraise
from uphill_lamp.core.areas.frame.other_camera_moves import from_catalogue
from uphill_lamp.core.areas.light.catalogue_lamps import lamps
from uphill_lamp.core.catalogue.meant import using
from uphill_lamp.core.catalogue.prices import Catalogue, catalogue
from uphill_lamp.core.catalogue.table import shipped
from uphill_lamp.core.describing import putting
from uphill_lamp.core.document import Setup, applied, typical
from uphill_lamp.core.document.patch import add, replace
from uphill_lamp.core.tape import entered
from uphill_lamp.core.wiring import faults
from uphill_lamp.core.wiring.devices import Device, devices_of
from uphill_lamp.core.wiring.free import computer_load, free_routes
from uphill_lamp.core.wiring.graph import graph_of, ways
from uphill_lamp.core.wiring.limits import uncompressed_mbit_s, usable_mbit_s
from uphill_lamp.core.wiring.packing import Packed, packing_list
from uphill_lamp.core.wiring.plan import Plan, links_of, planned


def with_microphone(kind: str, setup: Setup | None = None, **changes: Any) -> Setup:
    where = {} if kind in typical.WORN else {"at": "room", "position": {"x_m": 1.5, "y_m": 1.7, "z_m": 1.1}}
    new = typical.microphone(kind, "mic", "My microphone", True, **where, **changes)
    return put(setup or demo(), microphones=[new])


def with_camera(entry: str, setup: Setup | None = None) -> Setup:
    rich = put(setup or demo(), preferences__budget=2000.0)
    move = next(move for move in from_catalogue(rich) if move.id.endswith(entry))
    return applied(rich, move.patch)


def entries(plan: Plan, number: int = 0) -> list[str]:
    return [cable.kind.entry for cable in plan.chains[number].cables]


def told(plan: Plan) -> dict[str, faults.WiringFault]:
    return {fault.id: fault for fault in plan.faults}


class Chains(TestCase):
    def test_what_is_built_in_needs_no_cable(self) -> None:
        plan = planned(demo())
        self.assertEqual(
            ([chain.device.what for chain in plan.chains], plan.cost, plan.faults), (["light"], 0, ())
        )  # but its lamp needs mains

    def test_lamps_go_to_the_mains_and_those_with_a_usb_plug_through_a_charger(self) -> None:
        rich = put(demo(), preferences__budget=200.0)
        panel = next(move for move in lamps(appraise(rich).lit_scene) if move.id == "light.catalogue.small_panel")
        plan = planned(applied(rich, panel.patch))
        fed = next(chain for chain in plan.chains if chain.device.kind.entry == "small_panel")
        self.assertEqual([(cable.kind.entry, cable.owned) for cable in fed.cables], [("usb_charger", True)])  # it came with it
        self.assertEqual(plan.mains_w, planned(rich).mains_w + 12)
        (plugs,) = faults.of_strip(100, 7)
        self.assertEqual(plugs.title, "7 plugs for a strip of 6 ways")

    def test_a_usb_microphone_takes_one_cable_and_what_is_owned_costs_nothing(self) -> None:
        plan = planned(with_microphone("usb_desk"))
        self.assertEqual((entries(plan), plan.cost, plan.chains[0].port), (["usb_cable_ac"], 6, "usb_a"))
        mine = with_microphone("usb_desk", put(demo(), kit=[{"id": "c", "name": "C", "entry": "usb_cable_ac"}]))
        self.assertEqual(planned(mine).cost, 0)

    def test_a_condenser_goes_through_a_box_with_48_v_and_a_dynamic_through_one_with_gain_enough(self) -> None:
        plan = planned(with_microphone("xlr_condenser"))
        self.assertEqual(entries(plan), ["xlr_cable", "audio_interface", "usb_cable_ac"])
        self.assertEqual((plan.cost, plan.bus_ma), (86, 500))
        far = planned(with_microphone("xlr_dynamic"))  # wants 71 dB: 56 of the box and 25 of a booster
        self.assertEqual(sorted(entries(far)), ["audio_interface", "microphone_booster", "usb_cable_ac", "xlr_cable"])
        loud = put(with_microphone("xlr_dynamic", sensitivity_dbv=-28.0), microphones__mic__position={"x_m": 1.5, "y_m": 1.6, "z_m": 1.1})
        self.assertEqual(entries(planned(loud)), ["xlr_cable", "one_input_box"])  # 46 dB and no 48 V are enough for it

    def test_only_one_c_port_is_reached_by_an_adapter_and_no_port_is_told(self) -> None:
        tablet = put(with_microphone("usb_desk"), computer__ports=["usb_c"])
        self.assertEqual(entries(planned(tablet)), ["usb_cable_cc"])
        owned = put(tablet, kit=[{"id": "c", "name": "C", "entry": "usb_cable_ac"}])
        self.assertEqual(entries(planned(owned)), ["usb_cable_ac", "usb_a_to_c"])  # 5 for the adapter instead of 9 for a cable
        plan = planned(put(with_microphone("usb_desk"), computer__ports=["hdmi"]))
        self.assertIn("My microphone cannot be connected", told(plan)["no_way"].title)
        self.assertFalse(plan.chains[0].reached)

    def test_a_headset_plug_with_two_jacks_takes_a_splitter(self) -> None:
        plan = planned(put(with_microphone("headset"), computer__ports=["trs", "trs"]))
        self.assertEqual(entries(plan), ["headset_splitter"])

    def test_of_two_plugs_for_one_jack_the_second_goes_another_way_or_is_told(self) -> None:
        alone = planned(put(demo(), computer__listening="headphones"))
        self.assertEqual((entries(alone), alone.chains[0].port), ([], "trrs"))  # a plug of two rings sounds in a jack of three
        setup = put(with_microphone("lapel"), computer__listening="headphones")
        self.assertEqual(entries(planned(setup), 1), ["usb_sound_adapter"])
        with using(Catalogue({entry: kind for entry, kind in shipped().items() if entry != "usb_sound_adapter"})):
            self.assertEqual(told(planned(setup))["one_jack"].title, "Headphones: the TRRS jack is taken")

    def test_adapters_in_a_circle_are_no_harm(self) -> None:
        ring = dict(shipped())
        for name, one, other in (("round_a", "usb_a.plug", "usb_c.plug"), ("round_b", "usb_c.plug", "usb_a.plug")):
            ring[name] = ring["usb_a_to_c"].model_copy(update={"entry": name, "ports": (f"{one}>{other}",), "price": 0.0})
        with using(Catalogue(ring)):
            plan = planned(put(with_microphone("usb_desk"), computer__ports=["usb_a"]))
            self.assertEqual(entries(plan), ["usb_cable_ac"])

    def test_the_cheapest_way_is_as_cheap_as_any_short_one(self) -> None:
        """Against trying every chain of up to four parts by hand."""
        setup = put(with_microphone("xlr_dynamic"), computer__ports=["usb_c", "trrs"])
        device = next(devices_of(setup))
        best = next(ways(device, graph_of(setup.computer, {}, "GBP")))
        self.assertAlmostEqual(best.cost, _cheapest_by_trying(device, setup))


def _cheapest_by_trying(device: Device, setup: Setup) -> float:
    best, ends = [float("inf")], [(device.end, device.signal, 0.0, 0)]
    while ends:
        end, signal, cost, depth = ends.pop()
        connector, _, sex = end.partition(".")
        if sex == "plug" and connector in setup.computer.ports and signal.startswith("usb"):
            best.append(cost)
        for kind in catalogue().kinds.values() if depth < 4 else ():
            for way in kind.ports:
                for carries in kind.attributes.get("carries", "").split():
                    before, _, after = carries.partition(">")
                    fits = signal.startswith("usb") if before == "usb" else signal == before
                    if way.partition(">")[0] == end and ">" in way and fits:
                        ends.append((way.partition(">")[2], after or signal, cost + kind.price, depth + 1))
    return min(best)


class Faults(TestCase):
    """Each fault of the chain with its message."""

    def test_the_wrong_ring_order_of_a_lapel_plug(self) -> None:
        plain = {
            entry: kind for entry, kind in shipped().items() if entry not in ("lapel_adapter", "usb_sound_adapter", "phone_headset_adapter")
        }
        setup = put(with_microphone("lapel"), computer__ports=["trs", "usb_a"])
        with using(Catalogue(plain)):
            fault = told(planned(setup))["ring_order"]
        self.assertIn("plug does not fit a plain microphone jack", fault.title)
        self.assertIn("ring adapter", fault.mends)
        self.assertEqual(entries(planned(setup)), ["lapel_adapter"])  # and where there is one, it is the way

    def test_no_48_v(self) -> None:
        fault = told(planned(with_microphone("xlr_condenser", input={"phantom_48v": False})))["no_48v"]
        self.assertIn("gets no 48 V", fault.title)
        self.assertIn("headphones off", fault.caution)

    def test_gain_short_by_so_many_db(self) -> None:
        setup = with_microphone("xlr_dynamic", input={"gain_max_db": 40.0})
        fault = told(planned(put(setup, microphones__mic__position={"x_m": 1.5, "y_m": 2.0, "z_m": 1.1})))["gain"]
        self.assertRegex(fault.title, r"gain is short by \d+ dB")
        self.assertIn("the input gives 40 dB", fault.why)

    def test_menus_on_the_hdmi_output(self) -> None:
        kind = catalogue().kind("camera_menus")
        assert kind is not None
        setup = with_camera("camera_clean")
        camera = setup.main_camera
        menus = put(setup, **{f"cameras__{camera.id.replace('-', '_h_')}__entry": "camera_menus"})
        self.assertIn("shows its menus", told(planned(menus))["menus"].title)

    def test_usb_2_is_too_slow_for_an_uncompressed_picture(self) -> None:
        self.assertAlmostEqual(uncompressed_mbit_s(1920, 1080, 60), 1990.656)
        self.assertAlmostEqual(usable_mbit_s("usb2"), 316.8)
        setup = with_camera("camera_clean")
        camera = setup.main_camera.id.replace("-", "_h_")
        raw = {
            **shipped(),
            "capture_stick": shipped()["capture_stick"].model_copy(update={"price": 9999.0}),
        }  # then the box without compression is cheaper
        setup = put(setup, **{f"cameras__{camera}__fps": 60.0, "computer__age_years": 14.0, "computer__ports": ["usb_a"]})
        with using(Catalogue(raw)):
            fault = told(planned(setup))["too_slow"]
        self.assertIn("1991 Mbit/s", fault.why)
        self.assertIn("317 Mbit/s", fault.why)

    def test_hub_bus_power_exceeded(self) -> None:
        hub = catalogue().kind("usb_hub")
        assert hub is not None
        (fault,) = faults.of_hub({"Camera": 450, "Microphone": 500}, hub, 900)
        self.assertEqual(fault.title, "USB hub without power of its own, four ports: 950 mA asked, 800 mA there")
        self.assertFalse(list(faults.of_hub({"Camera": 450}, hub, 900)))
        setup = put(
            with_microphone("xlr_condenser", with_camera("webcam_tight")), computer__ports=["usb_a"], computer__separate_keyboard=True
        )
        plan = planned(setup)
        self.assertIsNotNone(plan.hub)
        self.assertTrue(any(chain.by_hub for chain in plan.chains))
        tight = put(setup, computer__age_years=14.0)  # USB 2: 500 mA
        self.assertEqual(planned(tight).hub.entry, "usb_hub_powered")  # type: ignore[union-attr]
        self.assertIn("mA asked", planned(tight).hub_why)

    def test_cables_too_long_for_their_kind(self) -> None:
        setup = with_microphone("usb_desk")
        links = [link.model_dump(mode="json") for link in links_of(planned(setup))]
        links[0]["length_m"] = 3.5
        fault = told(planned(put(setup, chain__links=links)))["too_long"]
        self.assertIn("3.5 m of cable are too long", fault.title)
        self.assertIn("USB 3 works to 3 m", fault.why)
        links[0]["length_m"] = 3.0
        self.assertNotIn("too_long", told(planned(put(setup, chain__links=links))))

    def test_a_battery_that_ends_before_the_call(self) -> None:
        camera = catalogue().kind("camera_clean")
        assert camera is not None
        device = Device("/cameras/c", "Camera", "picture", camera, "hdmi_micro.socket", "hdmi_video")
        (fault,) = faults.of_battery(device, 1.5, mains=False)
        self.assertEqual(fault.title, "Camera runs 1.3 h, and you need 1.5 h")
        self.assertFalse(list(faults.of_battery(device, 1.5, mains=True)))

    def test_the_picture_late_against_the_sound(self) -> None:
        fault = told(planned(with_camera("camera_clean")))["late"]
        self.assertIn("65 ms before your lips move", fault.title)
        self.assertIn("Hold the sound back by 65 ms", fault.mends)

    def test_a_port_and_a_strip_that_are_asked_too_much(self) -> None:
        phone = put(
            with_microphone("usb_desk", demo("interview-by-phone")),
            computer__ports=["usb_a"],
            computer__kind="tablet",
            computer__age_years=14.0,
        )
        hungry = {
            **shipped(),
            "usb_cardioid": shipped()["usb_cardioid"].model_copy(update={"attributes": {"signal": "usb_audio", "usb_ma": "900"}}),
        }
        with using(Catalogue(hungry)):
            self.assertIn("draws 900 mA, and the port gives 500 mA", told(planned(phone))["port_power"].title)
        (strip,) = faults.of_strip(2500)
        self.assertIn("2300 W", strip.why)


class FreeWays(TestCase):
    def test_a_phone_comes_in_for_nothing_before_anything_is_bought(self) -> None:
        rich = put(demo(), preferences__budget=100.0)
        from uphill_lamp.core.areas.frame.other_camera_moves import other_cameras

        phone = next(move for move in other_cameras(rich) if move.id == "frame.use_camera.spare-phone")
        plan = planned(applied(rich, phone.patch))
        self.assertEqual(plan.cost, 0)
        self.assertEqual(plan.chains[0].free.id, "usb_mode")  # type: ignore[union-attr]
        routes = plan.free[0][1]
        self.assertEqual([route.id for route in routes], ["usb_mode", "system", "network"])
        self.assertTrue(all(route.requires and route.latency_s > 0 and route.rows_px >= 576 for route in routes))

    def test_a_camera_with_a_mode_of_its_own_needs_no_capture(self) -> None:
        plan = planned(with_camera("camera_usb_mode"))
        self.assertFalse({"capture_stick", "capture_box"} & {cable.kind.entry for cable in plan.cables})
        device = next(devices_of(with_camera("camera_usb_mode")))
        self.assertTrue(list(free_routes(device, demo())))

    def test_an_old_computer_is_busier(self) -> None:
        new, old = put(demo(), computer__age_years=1.0), put(demo(), computer__age_years=9.0)
        self.assertLess(computer_load(new, ("blur",)), computer_load(old, ("blur",)))
        self.assertLess(computer_load(new), computer_load(new, ("blur",)))


class Wholes(TestCase):
    def test_links_are_valid_and_kept_with_their_lengths(self) -> None:
        setup = with_microphone("xlr_condenser")
        links = [link.model_dump(mode="json") for link in links_of(planned(setup))]
        kept = applied(setup, [replace("/chain/links", links)])
        self.assertEqual([cable.length_m for cable in planned(kept).cables], [3.0, 0.0, 2.0])

    def test_the_packing_list_holds_every_device_and_cable_once(self) -> None:
        setup = with_microphone("xlr_condenser", with_camera("webcam_wide"))
        plan = planned(setup)
        names = [item.name for item in packing_list(setup, plan)]
        self.assertEqual(len(names), len(set(names)))
        for wanted in ("Laptop", "My microphone", "Small tabletop tripod", "Bench lamp"):
            self.assertIn(wanted, names)
        self.assertEqual(sum(name[0].isdigit() for name in names), len(plan.cables))
        self.assertEqual([Packed("", mass_kg).mass for mass_kg in (None, 0.02, 0.6, 3.5, 8.0)], ["", "20 g", "0.6 kg", "3.5 kg", "8 kg"])
        for host, word in (("laptop", "with its charger"), ("desktop", "with its mains cable")):
            self.assertEqual(packing_list(put(setup, computer__kind=host), plan)[0].word, word)

    @promise(80)
    @given(varied_setups())
    def test_any_setup_has_a_plan(self, setup: Setup) -> None:
        plan = planned(setup)
        self.assertGreaterEqual(plan.cost, 0)
        self.assertEqual([cable.number for cable in plan.cables], list(range(1, len(plan.cables) + 1)))
        packing_list(setup, plan)
        for fault in plan.faults:
            self.assertTrue(fault.title and fault.why and fault.mends)

    def test_every_demo_has_a_plan_with_an_empty_catalogue_too(self) -> None:
        for name in demos():
            with using(Catalogue({})):
                self.assertEqual(planned(demo(name)).chains, ())  # nothing is known, nothing is drawn
            planned(applied(demo(name), [add("/kit/-", {"id": "odd", "name": "Odd", "entry": "no_longer_there"})]))


class AsDescribed(TestCase):
    def test_screens_come_with_their_chain_and_a_second_one_by_the_other_port(self) -> None:
        setup = put(demo("room-that-works"), preferences__budget=200.0, computer__ports=["usb_a", "usb_a", "usb_c", "usb_c", "trs", "hdmi"])
        two = applied(setup, putting.put(setup, "screens.monitor").patch)
        plan = planned(two)
        chains = {chain.device.path: chain for chain in plan.chains if chain.device.what == "screen" and chain.port != "mains"}
        self.assertEqual(len(chains), 2)
        self.assertEqual(sorted(chain.port for chain in chains.values()), ["hdmi", "usb_c"])
        self.assertEqual({cable.kind.entry for chain in chains.values() for cable in chain.cables}, {"hdmi_cable", "hdmi_to_usb_c"})
        self.assertTrue(all(chain.reached for chain in chains.values()))

    def test_a_phone_has_its_own_port_an_adapter_for_it_and_a_microphones_jack_to_listen_by(self) -> None:
        phone = put(demo("interview-by-phone"), computer__ports=["phone_port"], computer__listening="headphones", preferences__budget=200.0)
        with_mic = applied(phone, putting.put(phone, "microphones.usb_desk").patch)
        with_mic = put(
            with_mic,
            **{
                f"microphones__{microphone.id.replace('-', '_h_')}__in_use": microphone.id == "usb-desk"
                for microphone in with_mic.microphones
            },
        )
        plan = planned(with_mic)
        voice = next(chain for chain in plan.chains if chain.device.what == "voice")
        self.assertEqual((voice.port, "phone_usb_adapter" in [cable.kind.entry for cable in voice.cables]), ("phone_port", True))
        hearing = next(chain for chain in plan.chains if chain.device.what == "hearing")
        self.assertTrue(hearing.reached)
        self.assertFalse([fault for fault in plan.faults if fault.path == hearing.device.path])

    def test_what_a_camera_writes_to_its_card_needs_no_cable_and_shows_no_menus(self) -> None:
        setup = demo("kitchen-table")
        there = applied(setup, putting.put(setup, "cameras.capture").patch)
        uses = {f"cameras__{camera.id.replace('-', '_h_')}__use": "main" if camera.id == "capture" else "spare" for camera in there.cameras}
        there = put(there, cameras__capture__entry="camera_menus", **uses)
        self.assertIn("menus", [fault.id for fault in planned(there).faults])
        card = put(there, call__use="recorded", call__kept_on="camera")
        self.assertFalse([chain for chain in planned(card).chains if chain.device.what == "picture"])
        self.assertNotIn("menus", [fault.id for fault in planned(card).faults])

    def test_another_kind_of_computer_has_other_ports_unless_they_were_told(self) -> None:
        setup = demo()
        phone = applied(setup, entered(setup, "computer", "kind", "phone"))
        self.assertEqual(phone.computer.ports, ("phone_port",))
        made = applied(setup, entered(setup, "computer", "ports.usb_a", "2"))
        self.assertEqual(applied(made, entered(made, "computer", "kind", "phone")).computer.ports.count("usb_a"), 2)
