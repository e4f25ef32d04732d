"""Offices, papers, weather, ground, tempers and turns of speech. Each bank a slot (demo/grammar.py)."""

from demo.banks.living import bank

PUBLIC = {
    "paper": bank(
        """annexe, affidavit, appendix, audit, bill of costs, briefing note, bulletin, bylaw, certificate, charter,
        circular, code of conduct, communique, covenant, deed, directive, dossier, draft order, easement, estimate,
        executive summary, feasibility study, fact sheet, financial statement, flow chart, framework, glossary,
        guidance note, impact assessment, indemnity, injunction, inventory, invoice, issues paper, legal opinion, ledger,
        letter of intent, liability waiver, mandate, memorandum, minute book, mission statement, notice of motion,
        ordinance, petition, planning application, position paper, press release, procedure, prospectus, protocol,
        questionnaire, receipt, register of interests, regulation, remit, roadmap, rota, ruling, schedule, scoping report,
        specification, statute, strategy, subpoena, summons, survey form, tender, terms of reference, timetable, treaty,
        undertaking, verdict, warrant, white paper, work plan, writ"""
    ),
    "agenda": bank(
        """bus shelters, dog fouling, grit bins, hanging baskets, litter bins, parking permits, potholes, speed humps,
        streetlights, traffic cones, weight limits, zebra crossings, allotment rents, burial fees, cemetery walls,
        churchyard yews, public conveniences, skate ramps, swings, tennis nets, war memorials, wheelie bins, recycling
        rounds, fly-tipping, drains, culverts, flood gates, sandbags, sewage works, water meters, broadband, mobile masts,
        solar panels, wind turbines, hydro schemes, heat pumps, loft insulation, affordable homes, second homes, holiday
        lets, caravan sites, camping barns, stiles, finger posts, bridleways, rights of way, tree orders, hedgerow
        removal, noise complaints, late licences, street trading, buskers, fireworks, drones, satellite dishes, election
        expenses, councillors' allowances, standing orders, casual vacancies, apprenticeships, pension deficits, payroll
        software, data protection, insurance excesses, legal fees, audit queries, precepts, business rates, grants,
        twinning visits, jubilee mugs, Christmas trees, poppy wreaths, summer bedding, defibrillators, library hours,
        school meals, school transport, nursery places, respite care, meals on wheels, hearing loops, ramps, lifts"""
    ),
    "body": bank(
        """access forum, advisory panel, arbitration service, auditor, boundary commission, catchment partnership,
        chamber of trade, charity commission, citizens' panel, commoners' association, drainage authority, education
        authority, electoral registrar, emergency planning unit, enterprise agency, fire authority, fisheries
        inspectorate, grants committee, health authority, heritage agency, highways department, housing association,
        information tribunal, land court, land registry, lottery fund, ombudsman, ordnance survey, parish meeting,
        pensions office, planning inspectorate, police commissioner, scrutiny committee, select committee, standards
        committee, statistics office, tourist office, trading standards, transport executive, valuation tribunal,
        veterinary service, water company, weather service, wildlife trust, youth council"""
    ),
    "weather": bank(
        """drizzle, mizzle, sleet, hail, graupel, hoar frost, black ice, freezing fog, hill fog, haar, low cloud, gales,
        gusts, squalls, thunder, sheet lightning, cloudbursts, showers, downpours, flurries, blizzards, drifts, slush,
        thaw, sunshine, heat haze, drought, dew, rainbows, inversions, mackerel sky, thunderheads, northerlies,
        easterlies, a helm wind, a dry spell, a cold snap, an Indian summer, a late frost, a hard frost"""
    ),
    "groundkind": bank(
        """boulder clay, shale, mudstone, gritstone, sandstone, limestone pavement, schist, gneiss, basalt, dolerite,
        scree, gravel, marl, loam, peat, alluvium, silt, clay, podzol, moraine, drumlin, ironstone, chalk, flint,
        conglomerate, slate, quartz, greywacke, tuff, rhyolite"""
    ),
    "river": bank(
        """brown, swollen, sluggish, foaming, glassy, peaty, turbid, shallow, milky, brimming, sullen, racing, icy,
        trickling, roaring, muddy, sparkling, stagnant, swirling, silent, choked, knee-deep, impassable, placid"""
    ),
    "mood": bank(
        """aggrieved, agitated, alarmed, aloof, amiable, amused, anxious, apologetic, bashful, beaming, bemused, bitter,
        blithe, bored, breathless, brisk, brusque, buoyant, candid, cautious, cheerful, chilly, composed, contrite,
        courteous, crestfallen, curt, defiant, dejected, delighted, despondent, dignified, dismayed, distracted, doleful,
        dour, earnest, elated, embarrassed, exasperated, exhausted, fidgety, flustered, forlorn, frank, furious, genial,
        gloomy, gracious, grim, gruff, guarded, hesitant, hoarse, hopeful, impatient, impassive, indignant, irritable,
        jaunty, jovial, jubilant, laconic, listless, livid, mild, morose, muted, nervous, nonchalant, outspoken, patient,
        peevish, pensive, perplexed, pleased, polite, prickly, proud, puzzled, querulous, quiet, rattled, relaxed,
        reluctant, resentful, resigned, restless, rueful, sceptical, serene, sheepish, shrewd, sober, solemn, sombre,
        spry, startled, stern, stoical, stubborn, subdued, sulky, sunny, surly, tactful, taciturn, tearful, tense, terse,
        thoughtful, tired, unmoved, unrepentant, upbeat, uneasy, vexed, wary, weary, wistful, worried, wry"""
    ),
    "manner": bank(
        """awkwardly, bluntly, calmly, carefully, cheerfully, coldly, crossly, curtly, drily, eagerly, evenly, faintly,
        firmly, flatly, gently, gladly, glumly, gravely, grudgingly, hastily, heavily, hotly, humbly, idly, impatiently,
        kindly, loudly, meekly, mildly, modestly, patiently, plainly, politely, promptly, proudly, quickly, quietly,
        readily, ruefully, sadly, sharply, simply, slowly, softly, solemnly, sourly, stiffly, sternly, stubbornly,
        sweetly, tartly, tersely, thoughtfully, warmly, wearily, wryly"""
    ),
    "noise": bank(
        """cowbells, church bells, cockerels, geese, generators, chainsaws, strimmers, quad bikes, hand dryers,
        bagpipe practice, drumming, hammering, whistling, shouting, singing, snoring, creaking floorboards, rattling
        pipes, slamming gates, barking, bleating, lowing, owls, foxes, rooks, rushing water, quarry sirens, thunder"""
    ),
    "town": bank(
        """Aldermere, Barrowby, Cold Ashby Port, Dunmarsh, Eastering, Fallowmouth, Garrendale, Hexley, Inchmouth,
        Jessamy Cross, Kelderby, Lanchford, Marrowick, Northolme, Oxenhaven, Pellworth, Quarrington Spa, Rushmere Quay,
        Sandrith, Tollerby, Ulverstock, Vennford, Wintermouth, Yarrowby, Brackenport, Cinderford Magna, Drovermouth,
        Elsinby, Fennick, Greyhaven, Harrowmouth, Islesby, Loxley Harbour, Meresby, Netherport, Orlestone, Pikeringham,
        Saltfleet Haven, Thornwick Bay, Underbarrow Junction, Wexcombe, Averdale"""
    ),
    "medicine": bank(
        """antihistamines, antacids, bandages, blister plasters, calamine, cough linctus, ear drops, eye baths, gauze,
        hot-water bottles, iodine, lozenges, liniment, paracetamol, rehydration salts, sticking plaster, sun cream,
        surgical spirit, throat spray, travel pills, tweezers, vapour rub, vitamin tablets, witch hazel"""
    ),
    "book": bank(
        """thrillers, westerns, whodunnits, romances, sagas, biographies, memoirs, travelogues, atlases, almanacs,
        cookery books, gardening manuals, knitting patterns, bird guides, car manuals, phrase books, dictionaries,
        encyclopaedias, comics, annuals, picture books, pop-up books, nursery rhymes, fairy tales, ghost stories, science
        fiction, sonnets, sermons, large-print novels, talking books, crosswords, sudoku, jigsaws, local histories"""
    ),
    "newuse": bank(
        """art gallery, backpackers' hostel, bakery, bike workshop, bistro, brewery tap, climbing wall, co-working
        space, community kitchen, craft centre, creche, dance studio, day nursery, delicatessen, dental practice,
        distillery, exhibition hall, farm shop, field centre, gin school, glamping reception, gymnasium, health spa,
        heritage centre, ice cream parlour, indoor market, microbrewery, museum store, music school, osteopath's, pottery,
        recording studio, repair cafe, skate park, tea room, theatre, vegan cafe, vet's surgery, wedding venue, yoga
        studio"""
    ),
    "scale": bank(
        """a fortnight, a month of Sundays, three winters, half a lifetime, two lambings, a whole summer, one long
        weekend, five clippings, the best part of a decade, seven harvests, a single afternoon, nine weeks, a good few
        years, the length of a sermon, ten Christmases, most of a century, an hour and a half, a week of evenings"""
    ),
    "likeness": bank(
        """a bull in a dairy, a clock with no hands, a gate off its hinges, a sieve in a rainstorm, a key without a lock,
        a sermon in an empty chapel, a plough on a rock, a lamp at noon, a bell with no tongue, a wall built from the
        top, a letter with no stamp, a map of another county, a ladder with two rungs, a dog on a roof, a wheel without
        an axle, a stove in August, a fiddle with one string, an umbrella in a gale, a bucket with a hole, a bridge half
        way over, a cradle in a churchyard, a scarecrow in a suit, a ferry with no river, a raffle with one ticket,
        a hymn in the wrong key, a horse shod backwards, a net for the wind, a candle in a barn, a saddle on a sow,
        a recipe without quantities, a chimney with no fire, a boat on a hillside, a thimble for a flood, a coat with
        three sleeves, a parade in the fog, a jury of cousins, a watch in a well, an orchestra of one, a door painted on a
        wall, a cheque without a signature"""
    ),
    "share": bank(
        """one in ten, one in seven, a third, two fifths, nearly half, just over half, five in eight, two thirds, three
        quarters, four fifths, nine in ten, almost all, a handful, a dozen, a score, upwards of forty, fewer than twenty,
        about fifteen, hardly a quarter, a good half"""
    ),
}
