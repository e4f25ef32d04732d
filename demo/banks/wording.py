"""Qualities, doings and describing words, and what befalls people. Each bank a slot (demo/grammar.py)."""

from demo.banks.living import bank

WORDING = {
    "quality": bank(
        """patience, candour, courtesy, courage, modesty, humility, generosity, thrift, prudence, foresight, fairness,
        honesty, loyalty, kindness, compassion, gratitude, forbearance, perseverance, discipline, diligence, punctuality,
        tidiness, thoroughness, accuracy, precision, clarity, brevity, simplicity, consistency, coherence, flexibility,
        ingenuity, imagination, curiosity, intuition, wisdom, wit, humour, irony, warmth, tenderness, sympathy, charity,
        hospitality, neighbourliness, fellowship, solidarity, unity, harmony, compromise, moderation, restraint,
        discretion, tact, diplomacy, dignity, integrity, impartiality, neutrality, independence, autonomy, liberty,
        equality, justice, mercy, forgiveness, reconciliation, apology, remorse, regret, shame, guilt, blame, suspicion,
        resentment, envy, malice, spite, arrogance, vanity, pomposity, hypocrisy, deceit, cunning, flattery, gossip,
        rumour, prejudice, ignorance, apathy, indifference, complacency, negligence, incompetence, muddle, confusion,
        delay, red tape, secrecy, evasion, jargon, waffle, bluster, bravado, swagger, obstinacy, stubbornness, pride,
        self-respect, confidence, resolve, determination, ambition, enthusiasm, zeal, fervour, passion, obsession,
        nostalgia, melancholy, sorrow, grief, despair, dread, unease, worry, boredom, fatigue, relief, comfort, solace,
        contentment, cheerfulness, merriment, mischief, playfulness, wonderment, awe, reverence, devotion, faith, doubt,
        scepticism, realism, pragmatism, idealism, principle, conscience, duty, service, sacrifice, hardship, poverty,
        prosperity, luxury, greed, waste, extravagance, economy, efficiency, expertise, scholarship, craftsmanship,
        apprenticeship, experience, hindsight, perspective, proportion, symmetry, grace, elegance, splendour, grandeur,
        squalor, decay, neglect, renewal, recovery, stamina, resilience, vigour, frailty, tranquillity, silence, solitude,
        privacy, intimacy, companionship, rivalry, hostility, aggression, surrender, victory, defeat, retreat"""
    ),
    "worn": bank(
        """battered, bent, blackened, bleached, blistered, blunt, brand-new, brittle, broken, buckled, burnished, chipped,
        clumsy, cobwebbed, corroded, cracked, creaking, crooked, crumbling, curious, damp, dented, derelict, dingy,
        dirty, discoloured, dusty, embossed, engraved, expensive, faded, fancy, filthy, flimsy, foldable, fragile, frayed,
        freshly painted, galvanised, genuine, gilded, glossy, grimy, hand-carved, handsome, heavy, hefty, hideous, hollow,
        home-made, imported, incomplete, inlaid, jagged, knotted, lacquered, lopsided, matching, mended, moth-eaten,
        mouldy, muddy, narrow, neat, obsolete, odd, oily, ornate, oval, patched, patented, perforated, polished, portable,
        priceless, quaint, ragged, rare, rattling, refurbished, repainted, rickety, rotten, rough, rusty, scorched,
        scratched, second-hand, shabby, shiny, shrunken, slender, slippery, smooth, soot-stained, splintered, spotless,
        squeaky, stained, stiff, stout, streaked, sturdy, surplus, tarnished, tattered, threadbare, tiny, torn,
        tortoiseshell, twisted, unclaimed, unpolished, unusual, unwanted, upholstered, useless, valuable, varnished,
        vintage, warped, water-damaged, weathered, wobbly, wooden, worm-eaten, worthless, wrinkled"""
    ),
    "did": bank(
        """adjusted, admired, adopted, aired, altered, annotated, applauded, arranged, assembled, auctioned, baked, balanced,
        baptised, bartered, blessed, boiled, borrowed, bottled, braided, brewed, brushed, bundled, buried, calibrated,
        carried, carved, catalogued, chalked, chopped, christened, churned, clipped, collected, confiscated, copied,
        counted, crated, cured, dangled, darned, decorated, delivered, demolished, designed, dismantled, displayed,
        distilled, donated, drained, dredged, dried, dug, dusted, dyed, emptied, engraved, erected, examined, exchanged,
        excavated, exhibited, fetched, filleted, filmed, fitted, flattened, folded, forged, framed, frosted, garnished,
        gathered, gilded, glued, grafted, greased, grilled, ground, hammered, harvested, hauled, hemmed, hoisted,
        hung, illustrated, imported, inherited, inspected, installed, ironed, juggled, kneaded, labelled, laminated,
        laundered, lettered, lifted, loaded, logged, lowered, mashed, measured, melted, mended, milked, mislaid, modelled,
        moulded, mounted, mowed, named, numbered, oiled, ordered, oversaw, packed, painted, papered, parcelled, peeled,
        photographed, pickled, piled, pinned, planted, plastered, plucked, polished, posted, potted, preserved, pressed,
        pruned, published, quarried, raffled, raked, rebuilt, recited, recycled, rehearsed, removed, rented, repaired,
        replaced, rescued, restored, returned, rinsed, roasted, rolled, salted, salvaged, sanded, scraped, screened,
        scrubbed, sculpted, sealed, seasoned, separated, sewed, sharpened, shelved, shovelled, sieved, sketched, sliced,
        smoked, smuggled, soaked, sorted, sowed, spliced, sponged, sprayed, stacked, stamped, starched, steamed, stirred,
        stitched, stored, strained, stripped, stuffed, swapped, swept, tamed, tarred, tested, threaded, thatched, tiled,
        toasted, towed, trained, transcribed, transplanted, trimmed, tuned, unblocked, unearthed, unloaded, unveiled,
        valued, varnished, vaulted, vetted, washed, watered, weeded, weighed, welded, whitewashed, wired, wrapped"""
    ),
    "doing": bank(
        """arguing, apologising, bargaining, bickering, blinking, blushing, boasting, breathing hard, chewing, chuckling,
        clapping, complaining, conferring, coughing, counting heads, crossing their arms, crying, dawdling, daydreaming,
        debating, dithering, doodling, dozing, eavesdropping, fidgeting, flirting, frowning, fuming, gesturing, giggling,
        glancing at watches, glaring, grinning, grumbling, haggling, heckling, hesitating, humming, interrupting, jeering,
        joking, knitting, laughing, leaning on sticks, lighting pipes, listening, loitering, mimicking, mumbling,
        muttering, nodding, pacing, peering, pleading, pointing, pouting, praying, quarrelling, queueing, reminiscing,
        rolling their eyes, rummaging, scowling, scribbling, shivering, shrugging, shuffling papers, sighing, sketching,
        slouching, smirking, sneezing, sniffing, sobbing, squinting, staring, stretching, sulking, swearing, swaying,
        tapping their feet, teasing, tiptoeing, unwrapping sweets, waving, weeping, whispering, whittling, winking,
        wondering, yawning"""
    ),
    "hurt": bank(
        """a sprained wrist, a twisted ankle, a bruised rib, a cracked elbow, a broken collarbone, a fractured thumb,
        a dislocated shoulder, a slipped disc, a black eye, a split lip, a grazed knee, a stiff neck, a migraine,
        toothache, earache, a sore throat, laryngitis, bronchitis, asthma, hay fever, influenza, measles, mumps, shingles,
        chickenpox, gout, lumbago, sciatica, arthritis, rheumatism, anaemia, diabetes, cataracts, tinnitus, vertigo,
        insomnia, heartburn, hiccups, appendicitis, tonsillitis, concussion, sunburn, frostbite, chilblains, blisters,
        a wasp sting, a nettle rash, an adder bite, nosebleeds, hip surgery, a new knee, a pacemaker, crutches"""
    ),
    "cause": bank(
        """a burst main, a double booking, a power cut, a broken boiler, a landslip, a fallen beech, a jackknifed trailer,
        a missing key, a misprint, a bereavement, a broody hen in the ballot box, a clash with the cup final, a faulty
        projector, a flooded cellar, a funeral, a gas leak, a lost hymn book, a puncture, a roof inspection, a shortage of
        chairs, a stomach bug, a strike, a swarm of bees, a wedding, asbestos, dry rot, exams, woodworm, jury service,
        lambing, lack of interest, the clocks going back, the general election, the visit of a bishop, tonsillitis"""
    ),
    "sport": bank(
        """bowls, croquet, curling, badminton, table tennis, netball, hockey, lacrosse, rounders, stoolball, snooker,
        billiards, shove-halfpenny, cribbage, quoits, skittles, boules, darts, draughts, chess, tug of war, water polo"""
    ),
    "shop": bank(
        """ironmonger's, haberdasher's, cobbler's, baker's, butcher's, greengrocer's, chandler's, saddler's, draper's,
        outfitter's, milliner's, chemist's, optician's, bookseller's, stationer's, tobacconist's, newsagent's, florist's,
        antique shop, charity shop, bicycle shop, pet shop, toyshop, fishing tackle shop, wool shop, bridal shop, barber's,
        launderette, pawnshop, betting shop, chip shop, tea room, bakery, delicatessen, farm shop, garden centre"""
    ),
    "petname": bank(
        """Biscuit, Bramble, Button, Captain, Clover, Conker, Crumpet, Dandelion, Domino, Duchess, Fidget, Floss, Gyp,
        Hector, Jasper, Juno, Lassie, Magpie, Mungo, Nettle, Noodle, Otter, Pepper, Pickle, Pilot, Pippin, Rascal, Rusty,
        Scamp, Smudge, Snowy, Socks, Sooty, Tarzan, Teasel, Thistle, Tinker, Toffee, Trixie, Twig, Whisky, Wonky"""
    ),
    "farm": bank(
        """Alderthwaite, Ashgill, Backstone, Beckside, Birkrigg, Blea Busk, Brackenber, Brigsteer Hall, Broadmire,
        Burtersett, Calf Close, Cat Nab, Causeway Foot, Chapel Ing, Clough Top, Cockle Park, Cold Keld, Cowperhouse,
        Crag Bottom, Crosslands, Cuddyhill, Dale Head, Deepdub, Dovenest, Drybeck, Eller How, Far Arnside Bank, Fawcett
        Fold, Foulsyke, Foxup Lane, Gale Garth, Gilsteads, Goat Close, Grassrigg, Grizebeck, Hag End, Hawkrigg, Hazelslack,
        Heckber, High Borrans, Hollow Gate, Intake Top, Jackdaw Scar, Kirkrails, Knipe Moor, Lamb Paddock, Lathe Barn,
        Leadgate, Lingstubs, Low Wham, Mealbank, Millrace, Mire House, Moorcock, Nettlepot, Newbiggin Hey, Oddendale,
        Oxenthwaite, Paddy Lane, Peat Gate, Plumgarth, Quernhow, Raisgill, Raven Nook, Rosgill Intake, Rushy Leaze,
        Sandpot, Scale Haw, Scarbarrow, Selside Brow, Shaw Mire, Skelsmergh Rise, Sleddale, Snowhope, Stang End,
        Stockdale Rigg, Sunny Bank, Swarthfield, Syke House, Tarnside, Thornship, Thrang End, Todd Fell, Tongue House,
        Trough Foot, Udford, Uldale Head, Waitby, Wandale, Whinfold, Whiteber, Winder Bank, Wythmoor, Yewbarrow"""
    ),
}
