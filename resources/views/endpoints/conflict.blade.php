<x-changed-elsewhere :changed="$changed" :changes="$changes" :show="route('endpoints.show', [$source, $endpoint])"
    :save="route('endpoints.update', [$source, $endpoint])" form="#sheet-form" />
