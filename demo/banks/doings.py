"""What people in a valley are, make, eat, mend, sing and argue about. Each bank a slot (demo/grammar.py)."""

from demo.banks.living import bank

DOINGS = {
    "trade": bank(
        """wheelwright, farrier, blacksmith, saddler, cooper, thatcher, slater, drystone waller, hedger, ditcher,
        drainer, fencer, forester, sawyer, charcoal burner, cabinetmaker, joiner, carpenter, turner, carver, glazier,
        plumber, plasterer, bricklayer, stonemason, quarryman, roadmender, surveyor, draughtsman, electrician, fitter,
        welder, machinist, mechanic, panel beater, tyre fitter, lorry driver, postman, postwoman, telephone engineer,
        signalman, guard, stationmaster, ferryman, lock keeper, bargee, trawlerman, gamekeeper, ghillie, water bailiff,
        beekeeper, shepherdess, cowman, dairymaid, cheesemaker, butcher, baker, confectioner, grocer, greengrocer,
        fishmonger, publican, barmaid, cook, waitress, chambermaid, porter, laundress, seamstress, tailor, dressmaker,
        milliner, weaver, spinner, knitter, dyer, feltmaker, upholsterer, cobbler, shoemaker, glovemaker, hairdresser,
        barber, chemist, optician, dentist, midwife, district nurse, physiotherapist, surgeon, anaesthetist,
        radiographer, paramedic, carer, undertaker, gravedigger, verger, organist, bell-ringer, curate, rector, preacher,
        headmistress, schoolmaster, dinner lady, caretaker, lollipop man, librarian, archivist, curator, bookbinder,
        bookseller, printer, typesetter, cartoonist, journalist, proofreader, translator, piano tuner, fiddler, piper,
        bandmaster, chorister, potter, glassblower, silversmith, engraver, clockmaker, watchmaker, locksmith, gunsmith,
        knife grinder, tinsmith, coppersmith, bell founder, rope maker, basket maker, besom maker, chimney sweep, window
        cleaner, gardener, nurseryman, florist, seedsman, agronomist, hydrologist, geologist, meteorologist, botanist,
        entomologist, statistician, economist, accountant, bookkeeper, auctioneer, valuer, bailiff, solicitor,
        barrister, magistrate, coroner, constable, sergeant, probation officer, firefighter, mountain rescuer, coastguard,
        soldier, stoker, navigator, pilot, astronomer, engineer, programmer, typist, receptionist, switchboard operator,
        bus conductor, taxi driver, removal man, scrap dealer, antique dealer, pawnbroker, bookmaker, jockey, groom,
        riding instructor, swimming teacher, referee, umpire, goalkeeper, wicketkeeper, wrestler, fell runner,
        weightlifter, lighthouse keeper, census taker, interpreter, stage manager, puppeteer, conjuror, balloonist"""
    ),
    "tool": bank(
        """scythe, sickle, billhook, slasher, hay rake, pitchfork, muck fork, turnip chopper, chaff cutter, butter churn,
        cheese press, skimmer, milking stool, yoke, sledge, handcart, barrow, dibber, hoe, mattock, pickaxe, crowbar,
        sledgehammer, mallet, adze, axe, hatchet, froe, drawknife, spokeshave, plane, chisel, gouge, auger, brace, gimlet,
        bradawl, rasp, file, hacksaw, bow saw, pit saw, tenon saw, vice, anvil, bellows, tongs, pincers, pliers, spanner,
        wrench, ratchet, screwdriver, soldering iron, blowlamp, spirit level, plumb line, trowel, hod, ladder, trestle,
        winch, pulley, block and tackle, jack, chain hoist, grindstone, whetstone, shears, dagging shears, crook, raddle
        pot, drenching gun, lambing rope, ear punch, castrator, hoof knife, halter, bridle, saddle, harness, collar,
        hames, swingletree, plough, harrow, roller, seed drill, reaper, binder, baler, threshing drum, winnowing fan,
        riddle, sieve, weighing scale, steelyard, barometer, rain gauge, compass, theodolite, telescope, lantern,
        storm lamp, carbide lamp, oil stove, copper kettle, griddle, skillet, preserving pan, mangle, washboard, flat
        iron, spinning wheel, carding comb, loom, shuttle, bobbin, knitting sheath, darning egg, thimble, crochet hook"""
    ),
    "oddment": bank(
        """buttons, hinges, washers, cotter pins, horseshoe nails, staples, hooks, door knobs, keys, padlocks, marbles,
        dominoes, playing cards, jigsaw pieces, tin soldiers, dolls' heads, thimbles, hatpins, brooches, medals, coins,
        stamps, postcards, sheet music, gramophone records, cassettes, batteries, fuses, valves, light bulbs, candle ends,
        corks, bottle tops, jam jars, teaspoons, egg cups, saucers, eggshell china, cracked plates, pudding basins,
        picture frames, curtain rings, lampshades, umbrellas, walking sticks, spectacles, opera glasses, binoculars,
        fishing reels, floats, flies, cartridge cases, golf balls, cricket bails, skittles, quoits, horse brasses, spurs,
        bootlaces, insoles, odd gloves, collar studs, handkerchiefs, doilies, antimacassars, paper chains, bunting,
        crepe paper, raffle tickets, hymn sheets, ration books, almanacs, bus timetables, seed packets, plant labels,
        flowerpots, garden twine, mousetraps, birdcages, dog leads, cowbells, ear tags, baler twine, feed sacks"""
    ),
    "food": bank(
        """oatcakes, scones, parkin, gingerbread, flapjack, shortbread, teacakes, barm cakes, crumpets, pikelets,
        drop scones, soda bread, rye loaf, saffron buns, curd tarts, treacle tart, bakewell slices, lemon drizzle, seed
        cake, fruit loaf, sponge fingers, meringues, brandy snaps, macaroons, fudge, toffee, humbugs, peppermints, honey,
        heather honey, butter, buttermilk, crowdie, goat's cheese, blue cheese, smoked trout, potted shrimps, kippers,
        black pudding, haggis, brawn, chitterlings, tripe, sausages, mutton pies, pork pies, pasties, faggots, rissoles,
        meatballs, pickled eggs, pickled walnuts, piccalilli, sauerkraut, chutney, mint sauce, horseradish, mustard,
        cider, perry, mead, sloe gin, elderflower cordial, ginger beer, barley water, dandelion and burdock, cocoa"""
    ),
    "dish": bank(
        """mutton broth, hotpot, shepherd's pie, cottage pie, lamb shank, boiled ham, roast goose, game pie, rabbit stew,
        venison casserole, liver and bacon, oxtail, steak pudding, fish pie, kedgeree, lentil soup, leek and potato soup,
        barley soup, cauliflower cheese, mushroom risotto, vegetable curry, dumplings, pease pudding, bubble and squeak,
        rarebit, tattie pot, pan haggerty, toad in the hole, nut roast, moussaka, goulash, lasagne, paella, stroganoff"""
    ),
    "pudding": bank(
        """apple crumble, rice pudding, spotted dick, jam roly-poly, sticky toffee pudding, trifle, junket, blancmange,
        semolina, tapioca, queen of puddings, summer pudding, bread and butter pudding, custard, stewed prunes, baked
        apples, plum duff, sago, gooseberry fool, syllabub, lemon posset, damson cheese, rhubarb pie, pancakes, sorbet"""
    ),
    "building": bank(
        """tithe barn, corn mill, bobbin mill, fulling mill, lime kiln, smelt mill, powder house, ice house, dovecote,
        granary, byre, shippon, stable, cart shed, hay loft, bothy, shieling, sheepfold, peel tower, gatehouse, almshouse,
        workhouse, chapel, priory, vicarage, lychgate, belfry, crypt, schoolhouse, reading room, institute, drill hall,
        police house, toll house, coaching inn, alehouse, brewery, maltings, dairy, creamery, abattoir, mart, wool hall,
        exchange, bank, post office, telephone kiosk, signal box, engine shed, goods yard, viaduct, footbridge,
        packhorse bridge, weir, sluice, reservoir, pump house, boathouse, bandstand, pavilion, clubhouse, cinema, youth
        hostel, cottage hospital, surgery, pharmacy, forge, sawmill, quarry, substation, observatory, weather station"""
    ),
    "buildingpart": bank(
        """gutter, downpipe, ridge tiles, slates, rafters, purlins, joists, lintel, sill, mullion, sash, casement,
        shutter, fanlight, porch, threshold, doorstep, hinge post, gatepost, coping stone, buttress, parapet, finial,
        weathercock, chimney pot, flue, hearth, range, inglenook, skirting, wainscot, panelling, cornice, ceiling rose,
        banister, newel post, landing, attic, cellar, coal hole, cistern, boiler, radiator, fuse box, floorboards,
        flagstones, cobbles, drain cover, septic tank, hayrack, manger, stall partition, loft ladder, trapdoor"""
    ),
    "craft": bank(
        """basketry, beadwork, bookbinding, calligraphy, candle making, card making, carpentry, chair caning, cheese
        making, corn dollies, crochet, darning, decoupage, drystone walling, dyeing, embroidery, enamelling, felting,
        fly tying, hedge laying, horn carving, jewellery, knitting, lacemaking, leatherwork, macrame, marquetry,
        millinery, mosaic, needlepoint, origami, patchwork, pottery, quilting, rag rugs, rush seating, sign painting,
        silk screen printing, smocking, soap making, spinning, spoon carving, stained glass, stick dressing, tapestry,
        tatting, upholstery, weaving, whittling, woodcut, wreath making, watercolour, wine making, yoga, tango"""
    ),
    "material": bank(
        """bone, horn, antler, driftwood, bog oak, elm burr, willow wands, straw, rushes, raffia, hemp, jute, flax, tweed,
        flannel, corduroy, velvet, muslin, calico, gingham, worsted, serge, chenille, felt, sheepskin, parchment, vellum,
        slate, sandstone, limestone, granite, marble, alabaster, flint, jet, amber, pewter, brass, copper, bronze, lead,
        zinc, wrought iron, tinplate, barbed wire, bottle glass, terracotta, porcelain, papier mache, cardboard"""
    ),
    "garment": bank(
        """anorak, apron, balaclava, beret, blazer, boiler suit, bonnet, bowler hat, pair of braces, pair of breeches, brogue, cagoule,
        cape, cardigan, clog, cravat, dressing gown, pair of dungarees, duffel coat, flat cap, gaiter, galosh, gauntlet, jerkin,
        kilt, mackintosh, mitten, muffler, necktie, nightshirt, overcoat, oilskin, pinafore, plimsoll, poncho, pullover,
        raincoat, sandal, scarf, shawl, slipper, smock, sombrero, sou'wester, stocking, sunhat, trilby, tunic, turban,
        waistcoat, wellington boot, windcheater, woolly hat"""
    ),
    "colour": bank(
        """amber, auburn, beige, burgundy, buff, chestnut, cream, crimson, fawn, ginger, indigo, ivory, khaki, lemon,
        lilac, magenta, maroon, mauve, mustard, navy, ochre, olive, orange, peach, pink, plum, purple, russet, salmon,
        scarlet, sepia, tan, teal, turquoise, vermilion, violet, yellow, grey-green, sky-blue, bottle-green, off-white"""
    ),
    "vehicle": bank(
        """tractor, quad bike, livestock trailer, milk tanker, timber lorry, grain wagon, horsebox, caravan, camper van,
        minibus, coach, ambulance, fire engine, hearse, mobile library, mobile bank, gritter, snowplough, steamroller,
        tipper, skip lorry, low loader, breakdown truck, motorcycle, sidecar, moped, scooter, tandem, penny-farthing,
        pony trap, haycart, taxi, estate car, hatchback, pick-up, telehandler, forklift, bulldozer, excavator"""
    ),
    "music": bank(
        """requiem, oratorio, cantata, anthem, madrigal, carol, lullaby, shanty, ballad, reel, jig, hornpipe, strathspey,
        polka, waltz, mazurka, tango, march, overture, symphony, sonata, fugue, prelude, nocturne, rhapsody, serenade,
        quartet, quintet, operetta, pantomime, masque, medley, hymn, psalm, spiritual, blues, ragtime, calypso, samba"""
    ),
    "instrument": bank(
        """harmonium, upright piano, organ, accordion, concertina, melodeon, fiddle, viola, cello, double bass, harp,
        mandolin, banjo, guitar, ukulele, zither, dulcimer, recorder, tin whistle, flute, piccolo, oboe, clarinet,
        bassoon, saxophone, cornet, bugle, trumpet, horn, trombone, euphonium, tuba, timpani, side drum, tambourine,
        triangle, cymbals, xylophone, glockenspiel, handbells, bagpipes, mouth organ, kazoo, squeezebox"""
    ),
    "club": bank(
        """bowls club, cricket club, football club, rugby club, darts league, dominoes league, quoits team, angling
        association, gun club, archery society, fell race committee, cycling club, ramblers, youth club, scout troop,
        brownie pack, young farmers, women's circle, mothers' union, men's shed, sewing bee, book group, poetry circle,
        film society, camera club, amateur dramatics, operatic society, brass band, silver band, handbell ringers, folk
        club, ceilidh band, history society, natural history society, bee society, gardening club, allotment holders,
        vintage tractor club, model railway club, chess club, bridge club, whist drive, bingo night, quiz league, lunch
        club, toddler group, twinning association, flower guild, bell-ringers' guild, parish choir, twirling troupe"""
    ),
    "event": bank(
        """harvest supper, ploughing match, sheepdog trials, leek show, flower show, rose day, rushbearing, well
        dressing, gala, carnival, gymkhana, point-to-point, fell race, duck race, tug of war, sports day, jumble sale,
        coffee morning, beetle drive, barn dance, tea dance, talent contest, pantomime, nativity, carol service,
        pancake race, egg rolling, maypole, bonfire, firework night, torchlight walk, sponsored swim, car boot sale,
        antiques fair, book fair, craft market, cheese fair, beer festival, jazz weekend, brass band contest, art
        exhibition, open gardens, blessing of the plough, beating of the bounds, remembrance service, prize giving,
        blood donor session, first aid course, planning surgery, farewell party, golden wedding, christening"""
    ),
    "subject": bank(
        """volcanoes, glaciers, tides, magnets, electricity, gravity, planets, comets, fractions, decimals, geometry,
        algebra, probability, photosynthesis, fossils, dinosaurs, pyramids, pharaohs, gladiators, Vikings, Normans,
        crusades, explorers, pirates, plague, the spinning jenny, steam engines, suffragettes, evacuees, rationing,
        parliament, juries, maps, contour lines, grammar, spelling, haiku, limericks, fables, myths, legends, opera,
        perspective, batik, hygiene, vaccination, nutrition, first aid, road signs, coding, robots, recycling"""
    ),
}
