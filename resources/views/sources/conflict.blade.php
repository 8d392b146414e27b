<x-changed-elsewhere :changed="$changed" :changes="$changes" :show="route('sources.show', $source)" :save="route('sources.update', $source)"
    form="#source-form" />
