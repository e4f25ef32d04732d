"""Words that stand together in sentences, as a network with topics and the gaps between them."""

from winnower.core.network.build import WordNetwork, build_network, topic_places
from winnower.core.network.graph import Gap, Topic
from winnower.core.network.request import Network
from winnower.core.network.words import network_method, network_statements

__all__ = [
    "Gap",
    "Network",
    "Topic",
    "WordNetwork",
    "build_network",
    "network_method",
    "network_statements",
    "topic_places",
]
