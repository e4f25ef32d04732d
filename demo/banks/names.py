"""People, places and small things of the Orrin Hills; all made up."""

FARMERS = (
    "Una Tarrock", "Bram Oskell", "Hester Vane-Lowther", "Tomas Pell", "Ines Carrow", "Dougal Ferrin",
    "Martha Keld", "Arlo Wrens", "Sunniva Dyke", "Ewan Harbottle", "Rosa Thirl", "Caleb Mossop",
    "Greta Holm", "Jory Penhale", "Annika Stell", "Wilf Rakes", "Della Moorhead", "Hamish Tarrock",
)
OFFICIALS = (
    "board chair Petra Lindqvale", "licensing officer Oskar Venn", "councillor Maud Ashdene",
    "county clerk Idris Rowell", "inquiry chair Sir Edmund Hale", "board member Lotte Brack",
    "council leader Rufus Amory", "compensation officer Nadia Firth", "councillor Gil Overend",
)
SCIENTISTS = (
    "Dr Ilse Marrow", "Dr Kofi Anstey", "field ecologist Bea Quill", "Professor Ruth Sedge",
    "tracker Noor Halden", "vet Simon Urquhay", "botanist Flora Teesdale", "Dr Matti Orne",
)
VISITORS = (
    "hotel keeper Jess Orrocks", "guide Callum Rede", "photographer Mina Strand", "teacher Olive Pask",
    "shopkeeper Ron Tibbet", "bus driver Agnes Loy", "innkeeper Theo Garth", "warden Priya Nell",
)
PARENTS = (
    "Kate Sorley", "Ben Inchcape", "Moira Dunnet", "Safiya Crane", "Liam Oakes", "Hanne Birch",
    "Paul Arkle", "Yusra Flint", "Jenny Mottram", "Colm Rudd",
)
PLACES = (
    "Upper Orrin", "Nether Orrin", "Tarrock Bank", "Saltergate", "High Keld", "Birkmoor", "Cawdale",
    "Stennet", "Ravenscar Fold", "Lowther Green", "Hollin Bridge", "Garth End", "Thirl Head", "Mossdale",
)
HILLS = (
    "Bell Fell", "the Long Rigg", "Carrow Edge", "the eastern slope", "Wether Crag", "Kestrel Knott",
    "the Stennet ridge", "Blackbeck Side", "the top allotment", "Hare Law", "the north corrie",
)
MONTHS = (
    "January", "February", "March", "April", "May", "June", "July", "August", "September", "October",
    "November", "December",
)
WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
BYLINES = {
    "Orrin Courier": ("Ada Wray", "Piers Colby", "Lena Moss"),
    "Hill Farmer": ("Jack Thwaite", "Connie Airey"),
    "Valley Wire": ("Sam Eller", "Tilda Roe", "Newsdesk"),
    "The Lantern": ("Beatrix Holloway", "Marcus Ende", "Farah Linden"),
}
PARISHES = ("Upper Orrin", "Nether Orrin", "Cawdale", "Birkmoor", "Stennet", "Saltergate")
