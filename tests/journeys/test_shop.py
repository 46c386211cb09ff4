"""From sheet to shop, by real clicks: a cutter played, stopped and measured; the list asked after, ticked, brought
home, and what nobody has made the cheaper way."""

from tests.journeys.maker import Maker


def shown(maker: Maker, css: str) -> str:
    return maker.find(css).text


def eight(maker: Maker) -> dict:
    return next(m for m in maker.server.get("/api/builds/1/nest")["materials"] if m["key"] == "armour 8")


def test_a_sheet_is_cut_by_the_cutter_and_its_rest_is_used_by_the_next(demo):
    maker = demo
    maker.server.put("/api/foam-shelf", {"rows": [{"kind": "armour", "thickness": 8, "sheets": 1}]})
    maker.server.post("/api/builds/1/nest", {"materials": ["armour 8"], "effort": "quick", "tool": "cutter"})
    maker.wait(lambda: eight(maker)["laid"], 120)
    maker.open("/build/1/nest")
    maker.press("8 mm armour", ".tabs button")
    maker.press("Cutter", "a")
    maker.sees("Your cutter", 60)
    maker.press("Cut", ".presses .main")
    maker.wait(lambda: "knife" in shown(maker, ".desk .state"), 60)
    maker.press("Stop")
    maker.sees("not cut free", 30)
    maker.choose("pace", "120")
    assert "It is cut: take it off the stock" not in maker.text()
    maker.press("Cut", ".presses .main")
    maker.sees("It is cut: take it off the stock", 90)
    count = eight(maker)["count"]
    maker.sees(f"{count} of {count} parts cut free")
    maker.find("input[name='dry']").click()
    maker.wait(lambda: "It is cut" not in maker.text())
    maker.press("Run dry", ".presses .main")
    maker.sees("Nothing was cut", 90)
    maker.find("input[name='dry']").click()
    maker.press("Cut", ".presses .main")
    maker.press("It is cut: take it off the stock")
    maker.sees(", cut", 60)
    row = maker.server.get("/api/foam-shelf")["rows"][0]
    assert row["sheets"] == 0
    assert len(row["offcuts"]) == 1

    design = {"template": "tasset", "layers": [{"thickness": 8}]}
    maker.server.post("/api/builds/1/pieces", {"design": design, "name": "Spare plate"})
    maker.server.post("/api/builds/1/nest", {"materials": ["armour 8"], "effort": "quick"})
    maker.wait(lambda: any(s["offcut"] for s in eight(maker)["sheets"]), 240)
    maker.open("/build/1/nest?material=armour%208")
    maker.sees("an offcut you have", 60)


def test_the_list_is_bought_in_two_shops_and_what_nobody_has_goes_the_cheaper_way(demo):
    maker = demo
    maker.open("/build/1/supplies")

    def answered() -> bool:
        maker.press("Ask the shops", ".ask-shops")
        maker.wait(lambda: "Asking" not in maker.text(), 60)
        return "did not answer" not in maker.text()

    maker.sees("things to buy", 120)
    maker.wait(answered, 120)
    maker.press("Take the best of each")
    told = lambda: maker.server.get("/api/builds/1/supplies")  # noqa: E731
    maker.wait(lambda: len({x["shop"] for x in told()["lines"] if x["shop"]}) > 1, 60)
    maker.press("By shop")
    maker.sees("No shop yet")
    shops = sorted({x["shop"] for x in told()["lines"] if x["shop"] and x["packs"]})[:2]
    bought = [next(x for x in told()["lines"] if x["shop"] == shop and x["packs"]) for shop in shops]
    for one in bought:
        maker.find(f"input[name='got {one['name']}']").click()
    maker.write(f"paid {bought[0]['name']}", "7.25")
    maker.press("Bring home 2 ticked")
    maker.wait(lambda: told()["money"]["spent"] > 0, 60)
    assert told()["money"]["spent"] == 7.25 + bought[1]["cost"]
    assert all(x["packs"] == 0 for x in told()["lines"] if x["name"] in {b["name"] for b in bought})

    missing = next(x for x in told()["lines"] if x["cheaper"] and x["packs"] and not x["shop"])
    maker.press("All that is needed")
    maker.press(missing["name"], ".name")
    maker.press("Go the cheaper way")
    maker.wait(lambda: next(x for x in told()["lines"] if x["name"] == missing["name"])["taken"], 60)
    maker.sees("Buy it after all")
    maker.press("Undo")
    maker.wait(lambda: not next(x for x in told()["lines"] if x["name"] == missing["name"])["taken"], 60)
