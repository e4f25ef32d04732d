"""Living things of a hill country, what is kept and grown, and what ails it. Each bank a slot (demo/grammar.py)."""


def bank(text: str) -> tuple[str, ...]:
    """Entries parted by commas."""
    return tuple(" ".join(entry.split()) for entry in text.split(",") if entry.strip())


LIVING = {
    "bird": bank(
        """wren, robin, dunnock, stonechat, whinchat, wheatear, redstart, ring ouzel, blackbird, song thrush, mistle
        thrush, fieldfare, redwing, chiffchaff, willow warbler, wood warbler, blackcap, whitethroat, goldcrest,
        spotted flycatcher, pied flycatcher, coal tit, marsh tit, long-tailed tit, nuthatch, treecreeper, jay, magpie,
        jackdaw, rook, hooded crow, raven, starling, chaffinch, brambling, greenfinch, goldfinch, siskin, linnet, twite,
        lesser redpoll, crossbill, bullfinch, hawfinch, yellowhammer, reed bunting, skylark, meadow pipit, tree pipit,
        grey wagtail, pied wagtail, dipper, kingfisher, sand martin, house martin, swallow, swift, nightjar, cuckoo,
        turtle dove, stock dove, woodpigeon, barn owl, tawny owl, long-eared owl, short-eared owl, little owl, kestrel,
        merlin, hobby, peregrine, sparrowhawk, goshawk, buzzard, red kite, hen harrier, osprey, curlew, lapwing, golden
        plover, snipe, woodcock, redshank, common sandpiper, oystercatcher, dunlin, black grouse, red grouse, grey
        partridge, quail, pheasant, moorhen, coot, water rail, heron, little grebe, goosander, teal, wigeon, mallard,
        tufted duck, goldeneye, greylag, whooper swan, green woodpecker, great spotted woodpecker, wryneck, shrike"""
    ),
    "flower": bank(
        """wood anemone, lesser celandine, primrose, cowslip, oxlip, bluebell, ramsons, wood sorrel, dog violet, heath
        violet, stitchwort, red campion, ragged robin, cuckooflower, marsh marigold, globeflower, water avens, herb
        robert, wood cranesbill, bloody cranesbill, tormentil, silverweed, meadowsweet, lady's mantle, dog rose, burnet
        rose, bramble, cloudberry, bilberry, crowberry, cranberry, ling, bell heather, bog rosemary, bog asphodel,
        sundew, butterwort, grass of Parnassus, eyebright, yellow rattle, lousewort, foxglove, speedwell, self-heal,
        wild thyme, marjoram, betony, bugle, ground ivy, honeysuckle, guelder rose, valerian, devil's bit scabious,
        harebell, bellflower, goldenrod, yarrow, tansy, mugwort, coltsfoot, butterbur, melancholy thistle, spear
        thistle, knapweed, hawkbit, cat's-ear, mountain everlasting, early purple orchid, fragrant orchid, spotted
        orchid, twayblade, helleborine, lady's tresses, wild daffodil, snowdrop, wood rush, cotton grass, quaking grass,
        mat grass, purple moor grass, tussock sedge, horsetail, hard fern, lady fern, male fern, parsley fern, bracken,
        polypody, moonwort, adder's tongue, stag's horn clubmoss, sphagnum, hair moss, reindeer lichen, beard lichen"""
    ),
    "tree": bank(
        """alder, ash, aspen, beech, bird cherry, blackthorn, crab apple, elder, wych elm, field maple, goat willow,
        hawthorn, hazel, holly, hornbeam, juniper, larch, lime, sessile oak, pedunculate oak, Scots pine, downy birch,
        silver birch, spindle, sycamore, wild pear, yew, bay willow, dwarf birch, whitebeam, damson, sweet chestnut,
        walnut, buckthorn, osier, spruce, fir, rowan"""
    ),
    "small": bank(
        """bank vole, field vole, water vole, wood mouse, harvest mouse, pygmy shrew, water shrew, common shrew, mole,
        hedgehog, stoat, weasel, polecat, otter, mountain hare, brown hare, rabbit, red squirrel, dormouse, pipistrelle,
        Daubenton's bat, long-eared bat, common lizard, slow-worm, adder, grass snake, palmate newt, smooth newt, toad,
        frog, brown trout, grayling, minnow, bullhead, stone loach, eel, brook lamprey, crayfish"""
    ),
    "insect": bank(
        """bumblebee, mason bee, leafcutter, mining bee, hornet, wasp, hoverfly, cranefly, mayfly, stonefly, caddis,
        damselfly, demoiselle, hawker, darter, chaser, golden-ringed dragonfly, grasshopper, bush cricket, groundhopper,
        earwig, lacewing, froghopper, pond skater, whirligig, water boatman, ladybird, dor beetle, burying beetle, rove
        beetle, longhorn beetle, leaf beetle, click beetle, weevil, glow-worm, cockchafer, tiger beetle, orange-tip,
        brimstone, green hairstreak, small copper, common blue, red admiral, peacock, tortoiseshell, painted lady,
        fritillary, ringlet, meadow brown, speckled wood, large heath, skipper, emperor moth, hawkmoth, fox moth,
        northern eggar, cinnabar, burnet, carpet moth, antler moth, wolf spider, raft spider, money spider, harvestman,
        millipede, woodlouse, wood ant, leech, freshwater shrimp, ramshorn snail, door snail, black slug, tick, midge"""
    ),
    "fungus": bank(
        """chanterelle, hedgehog fungus, penny bun, fly agaric, blusher, birch polypore, hoof fungus, turkeytail,
        waxcap, puffball, stinkhorn, parasol, wood blewit, milkcap, brittlegill, honey fungus, jelly ear, earthstar,
        candlesnuff, morel, sulphur tuft, oyster mushroom, beefsteak, horn of plenty, scarlet elfcup"""
    ),
    "breed": bank(
        """gimmer, hogget, shearling, wether, tup lamb, draft ewe, broken-mouthed ewe, mule gimmer, blackface tup,
        whiteface ewe, grey-faced hogg, horned wether, polled ram, heifer, bullock, steer, suckler cow, house cow, calf,
        stirk, sow, gilt, weaner, boar, nanny goat, billy, kid, cob, hill pony, mare, foal, gelding, donkey, collie
        bitch, sheepdog pup, terrier, lurcher, bantam, pullet, cockerel, gander, gosling, drake, duckling, turkey, guinea
        fowl, ferret, hive of bees"""
    ),
    "ailment": bank(
        """footrot, scald, orf, liver fluke, fly strike, blowfly, twin lamb disease, milk fever, watery mouth, joint
        ill, swayback, pulpy kidney, braxy, louping ill, scab, lice, keds, mastitis, prolapse, bloat, colic, lungworm,
        nematodes, coccidiosis, pneumonia, pink eye, ringworm, tetanus, tick fever, bracken poisoning, ragwort poisoning,
        staggers, scour, hypothermia, lameness, a broken horn, a cracked hoof, wooden tongue, wind sucking, laminitis,
        distemper, kennel cough, mange, a thorn in the pad, canker, foulbrood, chalkbrood, red mite, gapes, bumblefoot"""
    ),
    "veg": bank(
        """leeks, onions, shallots, kale, savoys, sprouts, red cabbage, cauliflowers, kohlrabi, turnips, swedes, beetroot,
        carrots, parsnips, celeriac, fennel, marrows, courgettes, pumpkins, runner beans, broad beans, peas, lettuces,
        radishes, chard, spinach, artichokes, asparagus, sea kale, rhubarb, gooseberries, blackcurrants, redcurrants,
        raspberries, loganberries, tayberries, strawberries, plums, greengages, damsons, quinces, medlars, russets,
        cookers, pippins, conference pears, dahlias, chrysanthemums, sweet peas, gladioli, pansies, auriculas, begonias,
        fuchsias, hollyhocks, lupins, delphiniums, asters, wallflowers, marigolds, nasturtiums, geraniums"""
    ),
    "smell": bank(
        """peat smoke, wet wool, creosote, sheep dip, bracken, diesel, gorse, hot iron, leather, saddle soap, beeswax,
        turpentine, mothballs, woodsmoke, paraffin, damp plaster, floor polish, camphor, lavender, vinegar, burnt milk,
        yeast, roasting malt, ginger, nutmeg, aniseed, cloves, fried onions, silage, slurry, cut grass, linseed, tar,
        carbolic, chlorine, hymn books, chalk dust, candle wax, incense, pipe tobacco, rust, moss, resin, sawdust"""
    ),
}
